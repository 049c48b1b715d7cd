// Runs a chain on a picture, forward to its bands and backward to the picture's pixels.
#pragma once

#include <cstddef>
#include <functional>
#include <memory>
#include <span>
#include <vector>

#include "network/chain.h"

namespace jugendstil {

enum class Precision {
  full,  // f32
  half,  // bf16 activations and weights, f32 accumulation
};

// Whether the processor has bf16 instructions, without which half precision is slower than full.
bool processorHasHalf();

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
};

// Where the gradient with respect to one band's activations is put; valid inside the callback of
// Evaluator::backward. Every call adds to what is there. P is the number of positions, C of channels.
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

  // += scale * (a - kept), with what Evaluator::keep returned for this band.
  virtual void addDifference(const KeptActivation& kept, float scale) = 0;
};

// All primitives, weights and activations for one picture size, made once. Not thread-safe; it uses
// all OpenMP threads itself.
class Evaluator {
 public:
  // Only the listed bands (indices into chain.bands) are kept, and the chain is cut behind the deepest.
  // With a budget (bytes) that the picture would exceed, it works in tiles: all results are the same to
  // rounding, but nothing of a pass is kept, so each question may cost another one. Throws Error where the
  // picture is too small for a band to have a position, a tile has no room, or memory runs out.
  Evaluator(const Chain& chain, int width, int height, Precision precision, std::vector<std::size_t> bands,
            std::size_t budget = 0);
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
  struct Moments {
    std::vector<float> gram;
    std::vector<float> mean;
  };
  Moments weightedMoments(std::size_t band, std::span<const float> weights);
  std::vector<float> activations(std::size_t band) const;                             // P x C
  std::vector<float> gather(std::size_t band, std::span<const int> positions) const;  // n x C
  KeptActivation keep(std::size_t band) const;
  double squaredDistance(std::size_t band, const KeptActivation& kept) const;  // sum over all values
  // D x P: inner products with directions (D x C).
  std::vector<float> project(std::size_t band, std::span<const float> directions);

  // Calls fill(band, gradient) for each kept band from the deepest up, then writes the gradient with
  // respect to the input into the three planes.
  using Fill = std::function<void(std::size_t band, BandGradient& gradient)>;
  void backward(const Fill& fill, std::span<float> red, std::span<float> green, std::span<float> blue);

  // Bytes of activations, gradients and weights that such an evaluator holds, to about 10 %.
  static std::size_t memoryFor(const Chain& chain, int width, int height, Precision precision);

  class Impl;

 private:
  std::unique_ptr<Impl> impl_;
};

}  // namespace jugendstil
