// SPDX-License-Identifier: Apache-2.0
// Transfer functions and the opponent axes in which pictures are painted.
#pragma once

#include <array>

#include "image/image.h"

namespace jugendstil {

// IEC 61966-2-1. Continued through zero by odd symmetry and above 1 by the same curve, so that values
// outside [0, 1] survive a round trip.
float srgbToLinear(float encoded);
float linearToSrgb(float linear);

// The same for whole RGB(A) pictures; alpha is left alone.
Image toLinear(const Image& encoded);
Image toDisplay(const Image& linear);

// Rows: lightness, red-green, yellow-blue. Orthonormal, so distances and gradients are those of RGB and
// the inverse is the transpose.
inline constexpr std::array<std::array<float, 3>, 3> kOpponent{{
    {0.57735027F, 0.57735027F, 0.57735027F},
    {0.70710678F, -0.70710678F, 0.0F},
    {0.40824829F, 0.40824829F, -0.81649658F},
}};

}  // namespace jugendstil
