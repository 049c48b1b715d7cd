// SPDX-License-Identifier: Apache-2.0
// Two or more pictures of one place, laid out so that the eye finds what differs.
#pragma once

#include <vector>

#include "image/image.h"
#include "image/mask.h"

namespace jugendstil {

struct Divider {
  double at = 0.5;     // part of the width (or height) that the first picture has
  double soft = 0;     // pixels over which the one goes over into the other
  bool level = false;  // a level line, the first picture above it
};

// The first picture on the left of (or above) the divider, the second beyond. A hard one is drawn as a fine
// light line. RGB, one size. Throws Error otherwise.
Image dividedView(const Image& first, const Image& second, const Divider& divider);

// Where the divider stands at a time from 0 to 1 of a sliding view that begins and ends with both halves:
// gently to one side, to the other, and back.
double slidingPlace(double time);

// The absolute difference of display values times gain, on black.
Image differenceView(const Image& first, const Image& second, double gain);

// A rectangle of the picture with each pixel as so many squares wide and high. Throws Error where it does not
// lie inside.
Image magnified(const Image& picture, const MaskBox& box, int times);

// Up to `count` places of that size with the most drawing in them, at least a third of the picture apart from
// one another across or down.
std::vector<MaskBox> busyPlaces(const Image& picture, int width, int height, int count);

}  // namespace jugendstil
