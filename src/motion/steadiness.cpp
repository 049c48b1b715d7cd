// SPDX-License-Identifier: Apache-2.0
#include "motion/steadiness.h"

#include "base/error.h"
#include "motion/warp.h"

namespace jugendstil {

double warpingError(const Image& frame, const Image& before, const Flow& back, const Image& trust) {
  if (frame.width != before.width || frame.height != before.height || frame.channels != before.channels ||
      trust.area() != frame.area()) {
    throw Error("frames of different sizes cannot be compared for steadiness; bring them to one size");
  }
  const Image carried = warped(before, back);
  const std::size_t step = frame.channels;
  double sum = 0;
  double weight = 0;
  for (std::size_t i = 0; i < frame.area(); ++i) {
    if (trust.pixels[i] <= 0) continue;
    double pixel = 0;
    for (std::size_t c = 0; c < step; ++c) {
      const double d = frame.pixels[i * step + c] - carried.pixels[i * step + c];
      pixel += d * d;
    }
    sum += trust.pixels[i] * pixel / static_cast<double>(step);
    weight += trust.pixels[i];
  }
  return weight > 0 ? sum / weight : 0;
}

}  // namespace jugendstil
