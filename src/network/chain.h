// SPDX-License-Identifier: Apache-2.0
// A feature network as plain data: a chain of convolutions with ReLU and 2x2 pooling.
#pragma once

#include <array>
#include <filesystem>
#include <map>
#include <string>
#include <vector>

namespace jugendstil {

// What becomes of 2x2 positions of an activation before the next convolution; an odd last row or column is
// dropped.
enum class Pooling { none, average, maximum };

// A square convolution with stride 1 and zero padding that keeps the size, followed by ReLU.
struct Convolution {
  std::string name;
  int inputs = 0;
  int outputs = 0;
  int kernel = 3;
  Pooling pooling = Pooling::none;  // of its input, first
  std::vector<float> weights;       // outputs x inputs x kernel x kernel
  std::vector<float> bias;          // outputs

  bool pools() const { return pooling != Pooling::none; }
};

// A tapped activation: the output of convolutions[layer].
struct Band {
  std::string name;
  int layer = 0;
  int channels = 0;
  int stride = 1;          // pixels per position
  int receptiveField = 1;  // pixels that one position sees, per axis
};

struct Chain {
  std::string name;
  std::array<float, 3> mean{};          // taken from each RGB value,
  std::array<float, 3> scale{1, 1, 1};  // then multiplied
  std::vector<Convolution> convolutions;
  std::vector<Band> bands;              // in the order of the file's outputs
  std::vector<std::string> styleBands;  // names, fine to large
  std::vector<std::string> contentBands;
  std::string checksum;                      // of the file
  std::map<std::string, std::string> notes;  // what else its metadata says

  // Index into bands. Throws UsageError that lists the bands for an unknown name.
  std::size_t bandIndex(const std::string& band) const;
};

// Reads an ONNX file (opset 7 to 19, f32) that is such a chain: Sub and Mul by constants, Conv, Relu,
// AveragePool, MaxPool. Throws Error that names the first operator that does not fit, or says what is
// damaged.
Chain readOnnx(const std::filesystem::path& path);

}  // namespace jugendstil
