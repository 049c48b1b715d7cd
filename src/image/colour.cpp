// SPDX-License-Identifier: Apache-2.0
#include "image/colour.h"

#include <cmath>

#include "base/parallel.h"

namespace jugendstil {

float srgbToLinear(float encoded) {
  const float v = std::fabs(encoded);
  const float l = v <= 0.04045F ? v / 12.92F : std::pow((v + 0.055F) / 1.055F, 2.4F);
  return std::copysign(l, encoded);
}

float linearToSrgb(float linear) {
  const float v = std::fabs(linear);
  const float e = v <= 0.0031308F ? v * 12.92F : 1.055F * std::pow(v, 1.0F / 2.4F) - 0.055F;
  return std::copysign(e, linear);
}

namespace {

template <typename Curve>
Image mapColours(Image image, Curve curve) {
  const int colours = image.channels < 3 ? 1 : 3;
  parallelFor(image.height, [&](int y) {
    for (int x = 0; x < image.width; ++x) {
      for (int c = 0; c < colours; ++c) image.at(x, y, c) = curve(image.at(x, y, c));
    }
  });
  return image;
}

}  // namespace

Image toLinear(const Image& encoded) { return mapColours(encoded, srgbToLinear); }
Image toDisplay(const Image& linear) { return mapColours(linear, linearToSrgb); }

}  // namespace jugendstil
