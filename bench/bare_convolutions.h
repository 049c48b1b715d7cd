// The yardstick: nothing but the network's convolutions.
#pragma once

#include "network/evaluator.h"

namespace bench {

// Seconds for one forward and one backward-data pass of each of the chain's convolutions at this picture
// size: bare oneDNN primitives in the layouts they choose themselves, each the best of several runs, added
// up.
double bareConvolutions(const jugendstil::Chain& chain, int width, int height,
                        jugendstil::Precision precision);

}  // namespace bench
