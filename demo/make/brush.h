// SPDX-License-Identifier: Apache-2.0
// A loaded brush on a canvas with relief.
#pragma once

#include <functional>
#include <vector>

#include "image/image.h"
#include "noise.h"

namespace demo {

// Colour and the height of the paint, both of one size.
struct Canvas {
  jugendstil::Image colour;
  std::vector<float> height;
  Canvas(int w, int h, Colour ground);
};

struct Stroke {
  Point start;
  float width = 8;    // half the breadth, pixels
  float length = 40;  // pixels
  Colour colour;
  float load = 1;  // how much paint the brush carries: relief and cover
  std::uint32_t seed = 0;
};

using Field = std::function<float(float x, float y)>;  // direction, radians

// Draws a curved stroke that follows the field from its start (after Hertzmann 1998), with bristle furrows,
// ridges where the paint is pushed aside and a dry end.
void draw(Canvas& canvas, const Stroke& stroke, const Field& direction);

// The canvas under light from the upper left: relief shaded, wet paint glinting a little.
jugendstil::Image lit(const Canvas& canvas, float depth, float gloss);

}  // namespace demo
