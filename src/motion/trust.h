// SPDX-License-Identifier: Apache-2.0
// Where flow can be believed.
#pragma once

#include "image/image.h"
#include "motion/flow.h"

namespace jugendstil {

// Where a pixel's flow leads into the other frame and is undone by the flow back from there: what it shows is
// seen in both (Sundaram, Brox & Keutzer 2010). 1 there, 0 elsewhere; one channel.
Image seenMask(const Flow& flow, const Flow& back);

// The same without motion boundaries, where flow is never exact.
Image trustMask(const Flow& flow, const Flow& back);

// How far `frame` and what `other` shows along the flow look the same around each pixel, from 0 to 1: a check
// on motion that was added up over many frames, which two of them alone cannot pass. An even change of
// brightness does not count. One channel.
Image alikeMask(const GreyFrame& frame, const GreyFrame& other, const Flow& flow);

// The mask made smaller by `radius` pixels and softened by the same: what is warped under it leaves no seam.
Image softened(const Image& mask, int radius);

}  // namespace jugendstil
