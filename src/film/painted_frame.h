// SPDX-License-Identifier: Apache-2.0
// What painting a frame gives.
#pragma once

#include "image/image.h"

namespace jugendstil {

struct PaintedFrame {
  Image picture;    // RGB, in [0, 1]
  double loss = 0;  // style, content and the picture's own terms; without what holds it to the lead
  double style = 0;
  int steps = 0;
  Image canvas;       // the picture with the margin on which it was painted
  bool sound = true;  // false: the loss was not a number from the first step on
};

}  // namespace jugendstil
