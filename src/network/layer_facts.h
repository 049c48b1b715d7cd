// SPDX-License-Identifier: Apache-2.0
// What can be said of a network's layers, one by one.
#pragma once

#include <string>
#include <vector>

#include "network/chain.h"

namespace jugendstil {

struct LayerFacts {
  std::string number;  // 3_2: the second convolution after the second pool
  std::string name;    // the file's
  int kernel = 0;
  int inputs = 0;  // channels
  int outputs = 0;
  Pooling pooling = Pooling::none;  // before it
  int stride = 1;                   // pixels of the picture per position
  int receptiveField = 1;           // pixels that one position sees, per axis
  std::size_t weights = 0;
  double bytes = 0;     // of its activations, in f32
  double products = 0;  // multiplications, one way
  std::string band;     // that is tapped here; may be empty
  bool style = false;
  bool content = false;
};

// For a picture of width x height.
std::vector<LayerFacts> layerFacts(const Chain& chain, int width, int height);

}  // namespace jugendstil
