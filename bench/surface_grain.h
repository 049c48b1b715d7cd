// SPDX-License-Identifier: Apache-2.0
// What a painting's surface is made of: hatching, and strokes.
#pragma once

#include "image/image.h"

namespace bench {

// The energy of lightness at periods of 2 to 8 pixels along rows and columns, over that along the diagonals
// (each within 22.5 degrees), in windows of 64 pixels.
double axesOverDiagonals(const jugendstil::Image& picture);

struct Strokes {
  double anisotropy = 0;  // 0 none, 1 all one way
  double length = 0;      // pixels
};

// Of strokes some `scale` pixels wide: how far the structure tensor (Bigun & Granlund 1987) is from round,
// and how far one can go along it before the lightness has changed by half of its deviation.
Strokes strokesOf(const jugendstil::Image& picture, double scale);

}  // namespace bench
