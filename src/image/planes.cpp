// SPDX-License-Identifier: Apache-2.0
#include "image/planes.h"

#include <algorithm>

#include "base/number.h"
#include "base/parallel.h"
#include "image/colour.h"

namespace jugendstil {
namespace {

JUGENDSTIL_VECTORISED
void turn(const float* a, const float* b, const float* c, float* out, float wa, float wb, float wc,
          std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) out[i] = wa * a[i] + wb * b[i] + wc * c[i];
}

void turnAll(const Planes& from, Planes& to, bool transpose) {
  const std::size_t width = from.width;
  parallelFor(from.height, [&](int y) {
    const std::size_t at = y * width;
    const float* row[3] = {&from.plane[0][at], &from.plane[1][at], &from.plane[2][at]};
    std::vector<float> copy;
    if (&from == &to) {
      copy.resize(3 * width);
      for (std::size_t k = 0; k < 3; ++k) {
        std::copy_n(row[k], width, &copy[k * width]);
        row[k] = &copy[k * width];
      }
    }
    for (std::size_t k = 0; k < 3; ++k) {
      const auto w = [&](std::size_t j) { return transpose ? kOpponent[j][k] : kOpponent[k][j]; };
      turn(row[0], row[1], row[2], &to.plane[k][at], w(0), w(1), w(2), width);
    }
  });
}

}  // namespace

void opponentToRgb(const Planes& opponent, Planes& rgb) { turnAll(opponent, rgb, true); }
void rgbToOpponent(const Planes& rgb, Planes& opponent) { turnAll(rgb, opponent, false); }

Planes opponentOf(const Image& rgb) {
  Planes planes(rgb.width, rgb.height);
  for (std::size_t i = 0; i < rgb.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) planes.plane[c][i] = rgb.pixels[i * rgb.channels + c];
  }
  rgbToOpponent(planes, planes);
  return planes;
}

Image imageOf(const Planes& opponent) { return imageOf(opponent, 0, 0, opponent.width, opponent.height); }

Image imageOf(const Planes& opponent, int left, int top, int width, int height) {
  Image image(width, height, 3);
  const std::size_t count = width;
  parallelFor(height, [&](int y) {
    const std::size_t from = cellAt(left, top + y, opponent.width);
    const auto& p = opponent.plane;
    std::vector<float> row(count);
    float* to = image.row(y);
    for (std::size_t c = 0; c < 3; ++c) {
      turn(&p[0][from], &p[1][from], &p[2][from], row.data(), kOpponent[0][c], kOpponent[1][c],
           kOpponent[2][c], count);
      for (std::size_t x = 0; x < count; ++x) to[x * 3 + c] = row[x];
    }
  });
  return image;
}

}  // namespace jugendstil
