// SPDX-License-Identifier: Apache-2.0
// Painters that other programs have made.
#pragma once

#include <string>

#include "learn/net.h"
#include "network/onnx_graph.h"

namespace jugendstil {

// A graph of the usual operators (the message of a refusal names them) from an RGB picture to one of the same
// size as a net, which takes and gives RGB about 0 like ours. Files do not say what their white is: where
// what it makes of a picture from 0 to 1 goes far beyond, it is taken to be 255; where it ends in a
// hyperbolic tangent or goes well below 0, values are taken to be from -1 to 1. Throws Error that names the
// first operator that does not fit, or says what is damaged; `file` is for messages.
Net otherPaintersNet(const OnnxGraph& graph, const std::string& file);

}  // namespace jugendstil
