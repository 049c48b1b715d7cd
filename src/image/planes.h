// SPDX-License-Identifier: Apache-2.0
// Pictures as three separate planes, the form in which they are painted.
#pragma once

#include <array>
#include <cstddef>
#include <vector>

#include "base/number.h"
#include "image/image.h"

namespace jugendstil {

// Three planes of width*height values, row-major. Either RGB or opponent (lightness, red-green,
// yellow-blue by kOpponent), as the function says.
struct Planes {
  int width = 0;
  int height = 0;
  std::array<std::vector<float>, 3> plane;

  Planes() = default;
  Planes(int w, int h) : width(w), height(h) {
    for (auto& p : plane) p.assign(area(), 0.0F);
  }
  std::size_t area() const { return cellCount(width, height); }
  std::size_t index(int x, int y) const { return cellAt(x, y, width); }
};

Planes opponentOf(const Image& rgb);
Image imageOf(const Planes& opponent);
// A rectangle of it, which must lie inside.
Image imageOf(const Planes& opponent, int left, int top, int width, int height);

// The change of axes itself, in either direction, into a prepared result of the same size, which may be the
// same planes.
void opponentToRgb(const Planes& opponent, Planes& rgb);
void rgbToOpponent(const Planes& rgb, Planes& opponent);

}  // namespace jugendstil
