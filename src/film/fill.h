// SPDX-License-Identifier: Apache-2.0
// A frame made out of its neighbours.
#pragma once

#include "image/image.h"
#include "motion/flow.h"

namespace jugendstil {

// The picture at `part` (0 to 1) of the way from one frame to a later one, both carried half-way along the
// flow between their sources and mixed by nearness; where one was hidden, the other alone.
Image between(const Image& before, const Image& after, const FlowPair& flows, double part);

}  // namespace jugendstil
