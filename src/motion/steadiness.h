// How steady a film is.
#pragma once

#include "image/image.h"
#include "motion/flow.h"

namespace jugendstil {

// Mean squared difference between a frame and its predecessor carried along `back` (from the frame to its
// predecessor), over the pixels that are trusted, each counting by its trust; over all channels. 0 where
// nothing is trusted.
double warpingError(const Image& frame, const Image& before, const Flow& back, const Image& trust);

}  // namespace jugendstil
