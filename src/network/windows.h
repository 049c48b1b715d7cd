// SPDX-License-Identifier: Apache-2.0
// Pooling by any window and slopes below 0, for networks from elsewhere: slower than what pooling.h and
// signs.h do for the usual ones.
#pragma once

#include "network/chain.h"
#include "network/kernels.h"

namespace jugendstil {

// Both of one layout but for their sides, each of `to` half as long, rounded up for windows of 3.
void poolWindows(const Buffer& from, const Buffer& to, Pooling pooling, const PoolWindow& window);

// gradient = (add ? gradient : 0) + what flows back through the pooling of that activation: to the largest,
// the first one where several are as large, or to all alike.
void unpoolWindows(const Buffer& gradient, bool add, const Buffer& pooled, const Buffer& activation,
                   Pooling pooling, const PoolWindow& window);

// gradient = (gradient + extra) * (activation > 0 ? 1 : slope); extra may be null. All of one layout.
void maskBySlope(const Buffer& gradient, const void* extra, const Buffer& activation, float slope);

}  // namespace jugendstil
