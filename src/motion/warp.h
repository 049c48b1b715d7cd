// SPDX-License-Identifier: Apache-2.0
// Frames carried along flow.
#pragma once

#include "image/image.h"
#include "motion/flow.h"

namespace jugendstil {

// At each pixel, what `other` shows where the flow leads, by Lanczos' windowed sinc of three lobes, so that a
// picture carried through many frames stays sharp; the edge is repeated. Whole-pixel motion is exact. Any
// number of channels. Throws Error where sizes differ.
Image warped(const Image& other, const Flow& flow);

}  // namespace jugendstil
