// SPDX-License-Identifier: Apache-2.0
// A feature network out of one that was made elsewhere, as far as its last band.
#pragma once

#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "network/chain.h"
#include "network/onnx_graph.h"

namespace jugendstil {

// What a network wants of colours before its first layer: (value * white - mean) / deviation of each channel.
struct InputValues {
  float white = 1;
  std::array<float, 3> mean{};  // red, green, blue, as white counts
  std::array<float, 3> deviation{1, 1, 1};
  bool blueFirst = false;  // the file's channels are blue, green, red
};

struct ImportSettings {
  // Layers by number: 3_2 is the second convolution after the second pool; or by an output's name. A band is
  // what stands behind its ReLU.
  std::vector<std::string> style;  // fine to large
  std::vector<std::string> content;
  std::optional<Pooling> pooling{};    // in place of the file's own
  std::optional<InputValues> input{};  // not needed where the graph begins with operators that do it
};

// A picture's values as displayed, in [0, 1].
struct SamplePicture {
  int width = 0;
  int height = 0;
  std::array<std::vector<float>, 3> planes;  // red, green, blue
};

// Of what readLayers() takes, all up to the deepest band. `file` is for messages. Throws UsageError for a
// layer that is not there or where input is needed and not said; Error that names the first operator that
// cannot be taken.
Chain importedChain(const OnnxGraph& graph, const std::string& file, const ImportSettings& settings);

// Whether the graph begins with operators that say what becomes of colours.
bool saysItsInput(const OnnxGraph& graph);

// Rescales every layer so that its mean activation over the pictures is 1, or where outputs are added that of
// all of those together; what a layer sees of a pattern against another stays as it was. Throws Error where a
// layer answers nothing.
void scaleToMeanOne(Chain& chain, const std::vector<SamplePicture>& pictures);

// The graph of a chain that readOnnx() reads again, with its roles and the notes as metadata.
OnnxGraph graphOf(const Chain& chain, std::map<std::string, std::string> notes = {});

}  // namespace jugendstil
