// SPDX-License-Identifier: Apache-2.0
#include "paint/lines.h"

#include <algorithm>

#include "base/parallel.h"
#include "image/contours.h"
#include "image/luma.h"
#include "image/mask.h"

namespace jugendstil {
namespace {

constexpr std::array<float, 3> kBlack{0.07F, 0.065F, 0.07F};
constexpr std::size_t kDarkest = 50;
// Pixels of each reference that are looked at.
constexpr std::size_t kLookedAt = 20000;

}  // namespace

std::array<float, 3> inkFor(const std::vector<PaintReference>& references, Palette palette) {
  if (palette != Palette::reference) return kBlack;
  std::vector<const float*> pixels;
  for (const PaintReference& r : references) {
    const std::size_t count = std::min(kLookedAt, r.image.area());
    for (std::size_t i = 0; i < count; ++i) pixels.push_back(r.image.pixel(i * r.image.area() / count));
  }
  if (pixels.empty()) return kBlack;
  const std::size_t dark = std::max<std::size_t>(1, pixels.size() / kDarkest);
  std::nth_element(pixels.begin(), pixels.begin() + (dark - 1), pixels.end(),
                   [](const float* a, const float* b) { return lumaOf(a) < lumaOf(b); });
  std::array<double, 3> sum{};
  for (std::size_t i = 0; i < dark; ++i) {
    for (std::size_t c = 0; c < 3; ++c) sum[c] += pixels[i][c];
  }
  std::array<float, 3> ink{};
  for (std::size_t c = 0; c < 3; ++c) ink[c] = static_cast<float>(sum[c] / static_cast<double>(dark));
  return ink;
}

Image linesOver(const Image& photo, const Image& drawn, const Image& inside) {
  Image lines = drawn.empty() ? contoursOf(photo) : resizedMask(drawn, photo.width, photo.height);
  return inside.empty() ? lines : bothOf(lines, resizedMask(inside, photo.width, photo.height));
}

Image withLines(Image painting, const Image& lines, double strength, const std::array<float, 3>& ink) {
  parallelFor(painting.height, [&](int y) {
    for (int x = 0; x < painting.width; ++x) {
      const float there = static_cast<float>(strength) * lines.at(x, y, 0);
      for (int c = 0; c < 3; ++c) painting.at(x, y, c) += there * (ink[c] - painting.at(x, y, c));
    }
  });
  return painting;
}

Image withLines(Image painting, const Image& lines, double strength, const std::vector<Region>& regions,
                Palette palette) {
  if (regions.front().weights.empty())
    return withLines(std::move(painting), lines, strength, inkFor(regions.front().basis.references, palette));
  for (const Region& region : regions) {
    const Image own = bothOf(lines, resizedMask(region.weights, painting.width, painting.height));
    painting = withLines(std::move(painting), own, strength, inkFor(region.basis.references, palette));
  }
  return painting;
}

}  // namespace jugendstil
