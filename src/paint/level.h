// SPDX-License-Identifier: Apache-2.0
// One level of a painting: its size, its margin, its steps.
#pragma once

#include <cstddef>

#include "image/resample.h"

namespace jugendstil {

// One level: the picture's size and the larger canvas on which it is painted. The photo continues
// by reflection into the margin, which takes the zero padding of convolutions and is cut off at the end.
struct LevelPlan {
  Size picture;
  Size canvas;
  int left = 0;
  int top = 0;
  int steps = 0;
  std::size_t budget = 0;  // bytes that the network may hold; 0: all it wants, at once
  bool finishing = false;  // the last of several; a proof has none
  double work() const { return 1.0 * canvas.width * canvas.height * steps; }
};

// The canvas for a picture of this size.
LevelPlan canvasFor(Size picture);

}  // namespace jugendstil
