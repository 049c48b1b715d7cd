// SPDX-License-Identifier: Apache-2.0
// Image quilting as its paper has it, to be measured against.
#pragma once

#include <cstdint>

#include "weave/grow.h"

namespace bench {

// Square blocks with an overlap of a sixth, drawn from those whose overlap differs at most a tenth more than
// the best one's, cut along the least difference of colours. Single size, nothing mended.
//
// Efros & Freeman 2001, "Image quilting for texture synthesis and transfer".
jugendstil::Grown plainQuilting(const jugendstil::Image& swatch, int width, int height, std::uint64_t seed);

}  // namespace bench
