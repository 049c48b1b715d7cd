// SPDX-License-Identifier: Apache-2.0
// How steady a film is.
#pragma once

#include "image/image.h"
#include "motion/flow.h"

namespace jugendstil {

// Mean squared difference between a frame and its predecessor carried along `back` (from the frame to its
// predecessor), over the pixels that are trusted (one channel, 0 to 1), each counting by its trust, and over
// all channels, in display values from 0 to 1; 0 where nothing is trusted. The warping error of Lai et al.
// 2018.
double warpingError(const Image& frame, const Image& before, const Flow& back, const Image& trust);

}  // namespace jugendstil
