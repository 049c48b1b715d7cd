// SPDX-License-Identifier: Apache-2.0
// What can be said of a network's layers, one by one.
#pragma once

#include <string>
#include <vector>

#include "network/chain.h"

namespace jugendstil {

struct LayerFacts {
  std::string number;  // 3_2: the second ReLU of a quarter of the sides; 3_2a leads to it
  std::string name;    // the file's
  int kernel = 0;
  int inputs = 0;  // channels
  int outputs = 0;
  Pooling pooling = Pooling::none;  // before it
  int window = 2;                   // of that
  int step = 1;                     // positions of its input per position
  float negativeSlope = 0;          // 0: ReLU; 1: none
  std::string input;                // the number of the layer that it takes, where that is not the one before
  std::string plus;                 // of the one that it adds; may be empty
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
