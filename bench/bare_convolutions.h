// SPDX-License-Identifier: Apache-2.0
// The yardstick: nothing but the network's convolutions.
#pragma once

#include "network/evaluator.h"

namespace bench {

struct BareTime {
  double direct = 0;   // seconds, all layers by the direct algorithm
  double fastest = 0;  // each layer by the faster of the direct one and minimal filtering
};

// One forward and one backward-data pass of each of the chain's convolutions at this picture size: bare
// oneDNN primitives in the layouts they choose themselves, each the best of several runs, added up.
BareTime bareConvolutions(const jugendstil::Chain& chain, int width, int height,
                          jugendstil::Precision precision);

}  // namespace bench
