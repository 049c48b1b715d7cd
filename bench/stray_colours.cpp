// SPDX-License-Identifier: Apache-2.0
#include "stray_colours.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numeric>
#include <vector>

#include "base/parallel.h"
#include "grade/closeness.h"
#include "image/display_oklab.h"

namespace bench {

using namespace jugendstil;

double strayColours(const Image& picture, const Image& reference) {
  constexpr std::size_t kPixels = 12000;
  constexpr std::size_t kEvery = 8;
  constexpr double kFar = 8;
  const auto labAt = [](const Image& image, std::size_t i) {
    const float* p = image.pixel(i);
    return cieLabOf(oklabOfDisplay({p[0], p[1], p[2]}));
  };
  std::vector<CieLab> known(kPixels);
  for (std::size_t i = 0; i < kPixels; ++i) known[i] = labAt(reference, i * reference.area() / kPixels);
  std::vector<std::uint8_t> stray(picture.area() / kEvery);
  parallelFor(stray.size(), [&](std::size_t i) {
    const CieLab own = labAt(picture, i * kEvery);
    stray[i] = std::none_of(known.begin(), known.end(), [&](const CieLab& lab) {
      return std::hypot(own.lightness - lab.lightness, own.a - lab.a, own.b - lab.b) <= kFar;
    });
  });
  return std::accumulate(stray.begin(), stray.end(), 0.0) / static_cast<double>(stray.size());
}

}  // namespace bench
