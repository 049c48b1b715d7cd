// SPDX-License-Identifier: Apache-2.0
// Averaging 2x2 positions, its way back, and sums of channels.
#pragma once

#include <vector>

#include "network/kernels.h"
#include "network/signs.h"

namespace jugendstil {

// Sums of each channel over all positions.
std::vector<float> channelSums(const Buffer& from);

// Averages 2x2 positions into `pooled` (an odd last row or column is dropped), notes the signs of what it
// averages and returns channelSums(from): all three want every value once, and memory is what they wait for.
std::vector<float> poolAndSum(const Buffer& from, const Buffer& pooled, Signs& signs);

// gradient = above 0 by its sign ? pooled/4 at the position's quarter + (addOwn ? gradient : 0) : 0.
// Positions in a dropped odd row or column get nothing from pooled.
void unpoolAndMask(const Buffer& gradient, bool addOwn, const Buffer& pooled, const Signs& signs);

}  // namespace jugendstil
