// SPDX-License-Identifier: Apache-2.0
// Runs a chain on a picture, forward to its bands and backward to the picture's pixels.
#pragma once

#include <cstddef>
#include <memory>
#include <span>
#include <vector>

#include "network/band.h"
#include "network/chain.h"

namespace jugendstil {

class EvaluatorEngine;

// Whether the processor has bf16 instructions, without which half precision is slower than full.
bool processorHasHalf();

// All primitives, weights and activations for one picture size, made once. Not thread-safe; it uses
// all OpenMP threads itself.
class Evaluator {
 public:
  // Only the listed bands (indices into chain.bands) are kept, and the chain is cut behind the deepest.
  // With a budget (bytes) that the picture would exceed, it works in tiles: all results are the same to
  // rounding, but nothing of a pass is kept, so each question may cost another one. Throws Error where the
  // picture is too small for a band to have a position, a tile has no room, or memory runs out.
  Evaluator(const Chain& chain, int width, int height, Precision precision,
            const std::vector<std::size_t>& bands, std::size_t budget = 0);
  ~Evaluator();
  Evaluator(Evaluator&&) noexcept;

  int width() const;
  int height() const;
  BandShape shape(std::size_t band) const;

  // Planar RGB, display-encoded: three planes of width*height, which must stay as they are until the last
  // question about this pass.
  void forward(std::span<const float> red, std::span<const float> green, std::span<const float> blue);

  // Statistics and values of the last forward pass. All positions count alike. References hold until the
  // next pass.
  const std::vector<float>& gram(std::size_t band);  // C x C: a a^T / P
  const std::vector<float>& mean(std::size_t band);  // C
  // The same with a weight for each position, not all of them 0.
  BandMoments weightedMoments(std::size_t band, std::span<const float> weights);
  std::vector<float> activations(std::size_t band) const;                             // P x C
  std::vector<float> gather(std::size_t band, std::span<const int> positions) const;  // n x C
  KeptActivation keep(std::size_t band) const;
  // The sum over all values, each by its position's weight.
  double squaredDistance(std::size_t band, const KeptActivation& kept) const;
  // D x P: inner products with directions (D x C).
  std::vector<float> project(std::size_t band, std::span<const float> directions);

  // Calls fill(band, gradient) for each kept band from the deepest up, then writes the gradient with
  // respect to the input into the three planes.
  void backward(const FillGradient& fill, std::span<float> red, std::span<float> green,
                std::span<float> blue);

  // Bytes of activations, gradients and weights that such an evaluator holds, to about 10 %.
  static std::size_t memoryFor(const Chain& chain, int width, int height, Precision precision);

 private:
  std::unique_ptr<EvaluatorEngine> engine_;
};

}  // namespace jugendstil
