// SPDX-License-Identifier: Apache-2.0
// Where the layers of a chain stand, and who asks for them.
#pragma once

#include <string>
#include <vector>

#include "network/chain.h"

namespace jugendstil {

// Where a layer stands, as the picture sees it.
struct LayerPlace {
  int stride = 1;          // pixels per position
  int receptiveField = 1;  // pixels that one position sees, per axis
  std::string number;      // 3_2: the second ReLU of a quarter of the picture's sides; 3_2a leads to it
};

// Of all layers, in order.
std::vector<LayerPlace> placesOf(const Chain& chain);

// Who wants a layer's output besides the layer after it.
struct LayerUse {
  bool band = false;    // of any band of the chain
  bool pooled = false;  // the layer after it pools it
  bool named = false;   // as an input from further on, or to be added
};

// Of all layers, in order.
std::vector<LayerUse> usesOf(const Chain& chain);

// Whether its output is kept after the next layer has been computed.
bool keepsOutput(const Convolution& layer, const LayerUse& use);

}  // namespace jugendstil
