// SPDX-License-Identifier: Apache-2.0
// Bands at layers of one's own choosing. A layer is called by its number (3_2: the second convolution after
// the second pool), by its name in the file, or by that of the band that is there already.
#pragma once

#include <string>
#include <vector>

#include "network/chain.h"

namespace jugendstil {

// The band at that layer. Throws UsageError where none is.
std::string bandAt(const Chain& chain, const std::string& layer);

// With further bands at those layers, named by their numbers; nothing changes where there are some. Throws
// UsageError that lists the layers.
Chain withBandsAt(Chain chain, const std::vector<std::string>& layers);

// The same, and style (fine to large, in the order of the chain) and likeness are measured there alone; an
// empty list leaves them as they were. Bands that nothing is measured at are given up.
Chain measuredAt(Chain chain, const std::vector<std::string>& style, const std::vector<std::string>& content);

}  // namespace jugendstil
