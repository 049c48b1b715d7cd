// SPDX-License-Identifier: Apache-2.0
// Networks as other programs write them, with random weights, and what another runtime makes of them.
#pragma once

#include <filesystem>
#include <random>
#include <string>
#include <vector>

#include "network/import.h"
#include "network/onnx_graph.h"

namespace jugendstil::testing_foreign {

using Ints = std::vector<std::int64_t>;

// Each call adds an operator behind the one before it.
class Foreign {
 public:
  Foreign();

  OnnxNode& add(const char* op, std::vector<std::string> more = {});
  std::string constant(const Ints& shape, float middle, float spread);
  OnnxNode& convolve(int inputs, int outputs, int kernel, bool bias = true, int groups = 1);
  OnnxNode& pool(const char* op, int size = 2, int before = 0);
  void normalise(int channels);
  // 3-8-8, pool, 8-16 (of two groups) with normalisation, a 5x5, and a head that no chain has.
  void build(const char* pooling, bool padsBefore = true);
  // What comes last becomes the output.
  void end();

  OnnxGraph graph;
  std::mt19937 random{11};
  std::string last = "data";
  std::string deepest;
};

SamplePicture picture(int width, int height);

// A band's values, channel by channel.
std::vector<float> bandOf(const Chain& chain, const SamplePicture& p, const std::string& name);

// What another runtime makes of the file as it is: its first output.
std::vector<float> elsewhere(const std::filesystem::path& file, const SamplePicture& p,
                             const InputValues& in);

double lengthOf(const std::vector<float>& values);
// ||a - b|| / ||b||
double apart(const std::vector<float>& a, const std::vector<float>& b);

extern const InputValues kStandard;
extern const InputValues kBytes;

}  // namespace jugendstil::testing_foreign
