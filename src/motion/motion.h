// SPDX-License-Identifier: Apache-2.0
// How one frame goes over into another.
#pragma once

#include <cstdint>

#include "image/image.h"
#include "motion/flow.h"

namespace jugendstil {

// From a frame to one before it.
struct Motion {
  std::int64_t before = 0;  // the earlier frame's place
  Flow back;                // from the frame to the earlier one
  Image seen;               // where both frames show the same; 1 channel, of the frame
  Image trust;              // where the flow is exact as well
};

// Flow and trust from `frame` to another one of the same size, whose place is `place`.
Motion motionBetween(const GreyFrame& frame, const GreyFrame& other, std::int64_t place);

}  // namespace jugendstil
