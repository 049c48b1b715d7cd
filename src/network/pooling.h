// SPDX-License-Identifier: Apache-2.0
// Pooling 2x2 positions, its way back, and sums of channels.
#pragma once

#include <vector>

#include "network/chain.h"
#include "network/kernels.h"
#include "network/signs.h"

namespace jugendstil {

// Sums of each channel over all positions.
std::vector<float> channelSums(const Buffer& from);

// Pools 2x2 positions into `pooled` (an odd last row or column is dropped), notes the signs of what it
// pools and returns channelSums(from): all three want every value once, and memory is what they wait for.
std::vector<float> poolAndSum(const Buffer& from, const Buffer& pooled, Signs& signs,
                              Pooling pooling = Pooling::average);

// gradient = above 0 by its sign ? pooled/4 at the position's quarter + (addOwn ? gradient : 0) : 0.
// Positions in a dropped odd row or column get nothing from pooled.
void unpoolAndMask(const Buffer& gradient, bool addOwn, const Buffer& pooled, const Signs& signs);

// The same where the largest was taken: all of pooled goes to it, the first one where several are as large.
void unpoolToLargest(const Buffer& gradient, bool addOwn, const Buffer& pooled, const Buffer& activation);

}  // namespace jugendstil
