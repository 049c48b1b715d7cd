// SPDX-License-Identifier: Apache-2.0
// What is asked of a band of the network, and what is put into it on the way back.
#pragma once

#include <cstddef>
#include <functional>
#include <memory>
#include <span>
#include <vector>

namespace jugendstil {

enum class Precision {
  full,  // f32
  half,  // bf16 activations and weights, f32 accumulation
};

struct BandShape {
  int channels = 0;
  int height = 0;
  int width = 0;
  int positions() const { return height * width; }
};

// A copy of a band's activations in the evaluator's own layout; of use only to the evaluator that made it.
struct KeptActivation {
  std::shared_ptr<const std::byte[]> data;
  std::size_t size = 0;  // bytes
  // What a difference from it counts at each position of the band; empty: 1 everywhere.
  std::vector<float> weights;
};

// Where the gradient with respect to one band's activations is put; valid inside the callback of
// Evaluator::backward(). Every call adds to what is there. P is the number of positions, C of channels.
class BandGradient {
 public:
  virtual ~BandGradient() = default;

  // += M (a - centre) + offset at every position, where a is the band's own activation. M is C x C, centre
  // and offset have C values. Where there are weights, one for each position, times the position's.
  virtual void addLinear(std::span<const float> matrix, std::span<const float> centre,
                         std::span<const float> offset, std::span<const float> weights = {}) = 0;

  // += sum over d of directions[d] * values[d][position]. Directions D x C, values D x P.
  virtual void addProjected(std::span<const float> directions, std::span<const float> values) = 0;

  // += values[i] at positions[i] (row-major position numbers). Values n x C.
  virtual void addAt(std::span<const int> positions, std::span<const float> values) = 0;

  // += scale * (a - kept), with what Evaluator::keep returned for this band; times the weight of the position
  // where kept has weights.
  virtual void addDifference(const KeptActivation& kept, float scale) = 0;
};

// Called with each kept band from the deepest up.
using FillGradient = std::function<void(std::size_t band, BandGradient& gradient)>;

// First and second moments of a band's channels; C channels.
struct BandMoments {
  std::vector<float> gram;  // C x C: mean over positions of a a^T
  std::vector<float> mean;  // C
};

}  // namespace jugendstil
