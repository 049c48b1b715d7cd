// SPDX-License-Identifier: Apache-2.0
#include "motion/motion.h"

#include "motion/trust.h"

namespace jugendstil {

Motion motionBetween(const GreyFrame& frame, const GreyFrame& other, std::int64_t place) {
  FlowPair flows = flowBetween(frame, other);
  Motion motion{place, {}, seenMask(flows.there, flows.back), trustMask(flows.there, flows.back)};
  motion.back = std::move(flows.there);
  return motion;
}

}  // namespace jugendstil
