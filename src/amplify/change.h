// SPDX-License-Identifier: Apache-2.0
// A picture and what is added to it.
#pragma once

#include "image/image.h"

namespace jugendstil {

// Photo and change together, both of one size; of the change that part. What would leave the range of colours
// comes near its end instead of being cut off there, flat; a change of half the room there is stays as it is
// to 2 %.
Image withChange(const Image& photo, const Image& change, double part);

// Adds that part of another picture of the same size.
void addTo(Image& picture, const Image& more, double part);

}  // namespace jugendstil
