// SPDX-License-Identifier: Apache-2.0
// How alike two pictures are, place by place.
#pragma once

#include "image/image.h"

namespace jugendstil {

// Structural similarity of the lightness (luma of display values), the mean over all places of a Gaussian
// window of 1.5 pixels: 1 for the same picture, about 0 for unrelated ones (Wang, Bovik, Sheikh & Simoncelli
// 2004). RGB, one size; Throws Error otherwise.
double structuralSimilarity(const Image& a, const Image& b);

}  // namespace jugendstil
