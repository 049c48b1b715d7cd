// SPDX-License-Identifier: Apache-2.0
// A network's graph in a message between processes.
#pragma once

#include <string>

#include "network/onnx_graph.h"

namespace jugendstil {

// All of a graph but the values of its constants, of which it tells how many there are.
std::string packed(const OnnxGraph& graph);

// Constants have as many zeros as they have values. Throws Error where that is not what was packed.
OnnxGraph unpackedGraph(const std::string& bytes);

}  // namespace jugendstil
