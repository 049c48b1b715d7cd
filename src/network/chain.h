// SPDX-License-Identifier: Apache-2.0
// A feature network as plain data: convolutions with ReLU and pooling, mostly one after the other.
#pragma once

#include <array>
#include <map>
#include <string>
#include <vector>

namespace jugendstil {

// What becomes of an activation before the next convolution.
enum class Pooling { none, average, maximum };

// Every second position keeps what stands in its window. Of windows of 2 an odd last row or column is
// dropped; windows of 3 overlap and count what lies in the picture only.
struct PoolWindow {
  int size = 2;
  int before = 0;  // positions that it reaches to the left and above: 0, or 1 for windows of 3
};

// A square convolution with zero padding that leaves of each side a whole one, a half or a quarter, rounded
// up, and what follows it. Layers that it names come before it.
struct Convolution {
  std::string name;
  int inputs = 0;
  int outputs = 0;
  int kernel = 3;
  Pooling pooling = Pooling::none;  // of its input, first
  PoolWindow window{};
  int stride = 1;                // 1, 2 or 4
  int shift = 0;                 // positions that it begins further to the left and above than centred
  float negativeSlope = 0;       // what becomes of values below 0: 0 is ReLU; 1 leaves all as they are
  int input = -1;                // the layer whose output it takes; else the one before it
  int plus = -1;                 // a layer whose output is added before values below 0 go (He et al. 2016)
  std::vector<float> weights{};  // outputs x inputs x kernel x kernel
  std::vector<float> bias{};     // outputs

  bool pools() const { return pooling != Pooling::none; }
  // Positions of padding to the left and above; on the other sides what is left of kernel - 1.
  int before() const { return kernel / 2 + shift; }
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

// The layer that one takes its input from; -1 is the picture.
int inputOf(const Chain& chain, int layer);

}  // namespace jugendstil
