// SPDX-License-Identifier: Apache-2.0
// The frames of references: they are no part of their manner, and straight lines along their sides would be
// painted wherever a photo has their colour.
#pragma once

#include "image/image.h"

namespace jugendstil {

// What is cut off each side, in pixels.
struct Frame {
  int left = 0;
  int right = 0;
  int top = 0;
  int bottom = 0;

  bool found() const { return left > 0; }
};

// A frame that goes around all four sides: bands and lines, each even in its own colour but for some grain,
// nowhere more than three times as wide as elsewhere nor wider than an eighth of the side. All 0 where there
// is none; a sky, or a ground without an end, is no frame. RGB.
Frame frameOf(const Image& reference);

// A reference without its frame: that part (0 to 0.45) cut off each side, or for a negative part the frame
// that is found.
Image trimmed(const Image& reference, double part);

}  // namespace jugendstil
