// SPDX-License-Identifier: Apache-2.0
// The layers in an ONNX graph, of this program's own making or from elsewhere.
#pragma once

#include <map>
#include <string>

#include "network/chain.h"
#include "network/onnx_graph.h"

namespace jugendstil {

struct ReadLayers {
  Chain chain;                           // without bands; the layers' names are those of their convolutions
  std::map<std::string, int> rectified;  // layers behind their ReLU, by the graph's name for that
  bool saysInput = false;                // operators before the first layer say what becomes of colours
  int madeWhole = 0;                     // layers that are padded further than the file says
  std::string refused;                   // the first operator that could not be taken, and why; may be empty
};

// Takes convolutions (odd and square up to 11x11, strides of 1, 2 and 4, groups, with or without bias),
// normalisation and constants behind them, ReLU and leaky ReLU, pooling by windows of 2 and 3, Pad, sums and
// concatenations of layers, Dropout, Identity. Behind what cannot be taken nothing is. A convolution that is
// padded less than to its size is padded to it, so that what it sees inside is the same and begins earlier.
// `file` is for messages. Throws Error where there is not one input.
ReadLayers readLayers(const OnnxGraph& graph, const std::string& file);

}  // namespace jugendstil
