// SPDX-License-Identifier: Apache-2.0
// What stands behind an Evaluator: the network on a whole picture, or on one tile after the other.
#pragma once

#include <array>
#include <memory>
#include <optional>
#include <vector>

#include "network/band.h"
#include "network/chain.h"
#include "network/kernels.h"

namespace jugendstil {

using ConstPlanes = std::array<std::span<const float>, 3>;
using MutablePlanes = std::array<std::span<float>, 3>;

// A rectangle of pixels, its ends excluded; in a band, of the positions that these pixels have there.
struct Core {
  int left = 0;
  int top = 0;
  int right = 0;
  int bottom = 0;

  Core at(int stride) const { return {left / stride, top / stride, right / stride, bottom / stride}; }
};

class EvaluatorEngine {
 public:
  virtual ~EvaluatorEngine() = default;

  // All as in Evaluator.
  virtual int width() const = 0;
  virtual int height() const = 0;
  virtual BandShape shape(std::size_t band) const = 0;
  virtual void forward(const ConstPlanes& planes) = 0;
  virtual const BandMoments& moments(std::size_t band) = 0;
  virtual BandMoments weightedMoments(std::size_t band, std::span<const float> weights) = 0;
  virtual std::vector<float> activations(std::size_t band) = 0;
  virtual std::vector<float> gather(std::size_t band, std::span<const int> positions) = 0;
  virtual KeptActivation keep(std::size_t band) = 0;
  virtual double squaredDistance(std::size_t band, const KeptActivation& kept) = 0;
  virtual std::vector<float> project(std::size_t band, std::span<const float> directions) = 0;
  virtual void backward(const FillGradient& fill, const MutablePlanes& planes) = 0;
};

// The network on a whole picture, which may be a tile of a larger one: only what lies in its core counts
// then. Its chain may be a section of a longer one, whose input is a picture's pooled activations.
class WholeEvaluator : public EvaluatorEngine {
 public:
  // Where the input stands: to be written, then run.
  virtual Buffer input() = 0;
  virtual void forwardInput() = 0;
  // The last output averaged over 2x2 (to be called before clearOutside()), where that is handed on, and its
  // gradient, to be written before backwardFrom().
  virtual Buffer pooled() = 0;
  virtual Buffer pooledGradient() = 0;

  // Takes all positions outside the core to 0; to be called between a forward pass and what is asked of the
  // band.
  virtual void clearOutside(std::size_t band, const Core& core) = 0;
  // Sums over all positions (not means) of products of channels, and of channels.
  virtual BandMoments sums(std::size_t band) = 0;

  // As backward(), but of what is filled into a band only what lies in the core counts. Returns the
  // gradient of the input, valid until the next pass.
  virtual Buffer backwardFrom(const Core& core, const FillGradient& fill) = 0;
  // The gradient of the input, of a chain that begins with the picture, as that of the picture's planes.
  virtual void toPlanes(const Buffer& inputGradient, const MutablePlanes& planes) = 0;
};

// With handsOn the chain's last output is pooled, too, in that way.
std::unique_ptr<WholeEvaluator> makeWholeEvaluator(const Chain& chain, int width, int height,
                                                   Precision precision, const std::vector<std::size_t>& bands,
                                                   Pooling handsOn = Pooling::none);

// In tiles that hold no more than `budget` bytes at once. Throws Error where even the smallest holds more.
std::unique_ptr<EvaluatorEngine> makeTiledEvaluator(const Chain& chain, int width, int height,
                                                    Precision precision,
                                                    const std::vector<std::size_t>& bands,
                                                    std::size_t budget);

}  // namespace jugendstil
