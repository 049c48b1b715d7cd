// SPDX-License-Identifier: Apache-2.0
#include "paint/basis.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"
#include "image/colour.h"
#include "image/planes.h"
#include "paint/frame.h"

namespace jugendstil {
namespace {

// A bleaching reference leaves the drawing little to show itself by, so it is held harder.
constexpr double kBleachedLikeness = 26;

ColourStatistics pooledStatistics(const std::vector<PaintReference>& references) {
  ColourStatistics all = colourStatistics(references.front().image);
  all.weight = references.front().share;
  for (std::size_t i = 1; i < references.size(); ++i) {
    ColourStatistics next = colourStatistics(references[i].image);
    next.weight = references[i].share;
    all = pooled(all, next);
  }
  return all;
}

// Mean absolute difference of horizontal neighbours.
double detail(const std::vector<float>& plane, int width) {
  double sum = 0;
  for (std::size_t i = 1; i < plane.size(); ++i) {
    if (i % width != 0) sum += std::fabs(plane[i] - plane[i - 1]);
  }
  return sum;
}

// How much of the photo's detail the new colours lost, 0 (a quarter or less) to 1 (half or more): a reference
// that is nearly all paper bleaches the photo until nothing is left to hold to.
double bleaching(const Image& photo, const Image& recolouredPhoto) {
  constexpr double kEnough = 0.75;
  constexpr double kNothing = 0.5;
  const double own = detail(opponentOf(photo).plane[0], photo.width);
  if (own <= 1e-3) return 0;  // one colour: nothing to lose
  const double kept = detail(opponentOf(recolouredPhoto).plane[0], photo.width) / own;
  return std::clamp((kEnough - kept) / (kEnough - kNothing), 0.0, 1.0);
}

Image withLightnessOf(const Image& photo, Image recolouredPhoto, float part) {
  const auto& lightness = kOpponent[0];
  parallelFor(photo.height, [&](int y) {
    const std::size_t row = cellAt(0, y, photo.width);
    for (std::size_t i = row; i < row + photo.width; ++i) {
      const float* own = &photo.pixels[3 * i];
      float* moved = &recolouredPhoto.pixels[3 * i];
      float missing = 0;
      for (std::size_t c = 0; c < 3; ++c) missing += lightness[c] * (own[c] - moved[c]);
      for (std::size_t c = 0; c < 3; ++c) moved[c] += part * missing * lightness[c];
    }
  });
  return clipped(std::move(recolouredPhoto));
}

}  // namespace

PaintBasis paintBasis(const Image& photo, const std::vector<PaintReference>& references,
                      const PaintSettings& settings) {
  if (references.empty()) throw UsageError("painting needs at least one reference");
  PaintBasis basis;
  basis.likeness = settings.likeness;
  for (const PaintReference& r : references)
    basis.references.push_back({trimmed(rgbOf(r.image), settings.trim), r.share});
  const ColourStatistics photoColours = colourStatistics(photo);
  const ColourStatistics referenceColours = pooledStatistics(basis.references);
  if (settings.palette == Palette::photo) {
    const AffineColourMap toPhoto = mongeKantorovich(referenceColours, photoColours);
    for (PaintReference& r : basis.references) r.image = clipped(recoloured(r.image, toPhoto));
    return basis;
  }
  basis.recolours = true;
  basis.map = mongeKantorovich(photoColours, referenceColours);
  basis.bleached = bleaching(photo, clipped(recoloured(photo, basis.map)));
  basis.likeness += kBleachedLikeness * basis.bleached;
  return basis;
}

Image drawingOf(const PaintBasis& basis, const Image& photo) {
  if (!basis.recolours) return photo;
  Image drawing = clipped(recoloured(photo, basis.map));
  if (basis.bleached > 0)
    drawing = withLightnessOf(photo, std::move(drawing), static_cast<float>(basis.bleached));
  return drawing;
}

Inks inksOf(const PaintBasis& basis) {
  std::vector<const Image*> pictures;
  for (const PaintReference& reference : basis.references) pictures.push_back(&reference.image);
  return Inks(pictures);
}

}  // namespace jugendstil
