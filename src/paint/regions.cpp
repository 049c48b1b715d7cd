// SPDX-License-Identifier: Apache-2.0
#include "paint/regions.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "image/mask.h"

namespace jugendstil {
namespace {

// A part below this much of the picture gives statistics no footing.
constexpr double kLeastArea = 1e-4;

Image fitted(const Image& mask, const Image& photo) {
  return mask.width == photo.width && mask.height == photo.height
             ? mask
             : resizedMask(mask, photo.width, photo.height);
}

// The pixels of which more than half counts, in a row.
Image pixelsUnder(const Image& photo, const Image& weights) {
  Image row(0, 1, 3);
  for (std::size_t i = 0; i < photo.area(); ++i) {
    if (weights.pixels[i] < 0.5F) continue;
    const auto from = photo.pixels.begin() + i * 3;
    row.pixels.insert(row.pixels.end(), from, from + 3);
    ++row.width;
  }
  return row;
}

Region regionUnder(const Image& photo, Image weights, const std::vector<PaintReference>& references,
                   const PaintSettings& settings) {
  const Image own = pixelsUnder(photo, weights);
  Region region{paintBasis(own.empty() ? photo : own, references, settings), std::move(weights), 0};
  region.area = coverage(region.weights);
  return region;
}

// Each pixel's weights together are at most 1.
void share(std::vector<Image>& masks) {
  for (std::size_t i = 0; i < masks.front().pixels.size(); ++i) {
    float sum = 0;
    for (const Image& m : masks) sum += m.pixels[i];
    if (sum <= 1) continue;
    for (Image& m : masks) m.pixels[i] /= sum;
  }
}

Image restOf(const std::vector<Image>& masks) {
  Image rest = masks.front();
  for (std::size_t i = 0; i < rest.pixels.size(); ++i) {
    float sum = 0;
    for (const Image& m : masks) sum += m.pixels[i];
    rest.pixels[i] = std::max(0.0F, 1 - sum);
  }
  return rest;
}

}  // namespace

std::vector<Region> regionsOf(const PaintInputs& inputs, const PaintSettings& settings) {
  const Image photo = rgbOf(inputs.photo);
  if (inputs.parts.empty() && inputs.inside.empty())
    return {{paintBasis(photo, inputs.references, settings), {}, 1}};
  const Image inside =
      inputs.inside.empty() ? Image(photo.width, photo.height, 1, 1.0F) : fitted(inputs.inside, photo);
  if (coverage(inside) < kLeastArea)
    throw UsageError("the mask leaves nothing to paint: it is black all over");
  std::vector<Image> masks;
  for (const PaintPart& part : inputs.parts) {
    masks.push_back(bothOf(fitted(part.mask, photo), inside));
    if (coverage(masks.back()) < kLeastArea)
      throw UsageError(fmt::format(
          "part {} covers nothing of what is painted; its mask has to be white there", masks.size()));
  }
  std::vector<Region> regions;
  if (!inputs.references.empty() || masks.empty()) {
    Image rest = inside;
    if (!masks.empty()) {
      share(masks);
      rest = bothOf(restOf(masks), inside);
    }
    if (masks.empty() || coverage(rest) >= kLeastArea)
      regions.push_back(regionUnder(photo, std::move(rest), inputs.references, settings));
  } else {
    share(masks);
  }
  for (std::size_t i = 0; i < masks.size(); ++i)
    regions.push_back(regionUnder(photo, std::move(masks[i]), inputs.parts[i].references, settings));
  double total = 0;
  for (const Region& r : regions) total += r.area;
  for (Region& r : regions) r.area /= total;
  return regions;
}

Image drawingOf(const std::vector<Region>& regions, const Image& photo) {
  if (regions.front().weights.empty()) return drawingOf(regions.front().basis, photo);
  Image out = photo;
  for (const Region& region : regions) {
    const Image own = drawingOf(region.basis, photo);
    for (std::size_t i = 0; i < out.pixels.size(); ++i)
      out.pixels[i] += region.weights.pixels[i / 3] * (own.pixels[i] - photo.pixels[i]);
  }
  return clipped(std::move(out));
}

double likenessOf(const std::vector<Region>& regions) {
  double mean = 0;
  for (const Region& r : regions) mean += r.area * r.basis.likeness;
  return mean;
}

Image keptToReferences(Image painting, const std::vector<Region>& regions, Palette palette) {
  if (palette != Palette::reference) return painting;
  Image out = painting;
  for (const Region& region : regions) {
    Image kept = inksOf(region.basis).keptTo(painting);
    if (region.weights.empty()) return kept;
    const Image weights = resizedMask(region.weights, painting.width, painting.height);
    for (std::size_t i = 0; i < out.pixels.size(); ++i)
      out.pixels[i] += weights.pixels[i / 3] * (kept.pixels[i] - painting.pixels[i]);
  }
  return clipped(std::move(out));
}

Image shownPart(const std::vector<Region>& regions) {
  if (regions.front().weights.empty()) return {};
  Image shown = regions.front().weights;
  for (std::size_t r = 1; r < regions.size(); ++r) {
    for (std::size_t i = 0; i < shown.pixels.size(); ++i) shown.pixels[i] += regions[r].weights.pixels[i];
  }
  return clipped(std::move(shown));
}

}  // namespace jugendstil
