// SPDX-License-Identifier: Apache-2.0
// Where one shot ends and the next begins.
#pragma once

#include "image/image.h"

namespace jugendstil {

// How different two frames' colours are, 0 (the same) to 1 (nothing in common): half the L1 distance of their
// histograms of 12 levels of lightness by 6 by 6 of chroma, smoothed so that a fade or a turn does not look
// like a change of place.
double histogramDistance(const Image& first, const Image& second);

// Whether a new shot begins with `second`: colours jump, or they change somewhat and nothing can be followed.
// `trusted` is the mean of the trust mask between the two.
bool isCut(double histogramDistance, double trusted);

}  // namespace jugendstil
