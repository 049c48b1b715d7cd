// SPDX-License-Identifier: Apache-2.0
#include "image/colour.h"

#include <cmath>
#include <span>
#include <vector>

#include "base/parallel.h"
#include "image/quick_transfer.h"

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

JUGENDSTIL_VECTORISED void lightOfRow(float* values, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) values[i] = quickToLinear(values[i]);
}

JUGENDSTIL_VECTORISED void displayOfRow(float* values, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) values[i] = quickToDisplay(values[i]);
}

Image mapColours(Image image, void (*mapRow)(float*, std::size_t)) {
  const std::size_t step = image.channels;
  const bool alpha = step == 2 || step == 4;
  parallelFor(image.height, [&](int y) {
    const std::span<float> row(image.row(y), image.rowLength());
    std::vector<float> kept;
    for (std::size_t i = step - 1; alpha && i < row.size(); i += step) kept.push_back(row[i]);
    mapRow(row.data(), row.size());
    for (std::size_t i = 0; i < kept.size(); ++i) row[i * step + step - 1] = kept[i];
  });
  return image;
}

}  // namespace

Image toLinear(const Image& encoded) { return mapColours(encoded, lightOfRow); }
Image toDisplay(const Image& linear) { return mapColours(linear, displayOfRow); }

}  // namespace jugendstil
