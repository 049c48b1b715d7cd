// One-dimensional optimal transport, the building block of the sliced Wasserstein distance.
#pragma once

#include <cstdint>
#include <random>
#include <span>
#include <vector>

namespace jugendstil {

// A distribution on a line as its values at kQuantiles evenly spaced ranks, ascending.
inline constexpr std::size_t kQuantiles = 4096;

// Quantiles of samples (any count above 0, unsorted), interpolated linearly between ranks.
std::vector<float> quantilesOf(std::vector<float> samples);

// Working memory of transportResidual(), worth keeping between calls.
struct TransportScratch {
  std::vector<std::uint16_t> keys;
  std::vector<std::uint32_t> counts;
  std::vector<float> low;
  std::vector<float> span;
};

// Replaces each value by how far it lies from where optimal transport to the target sends it,
// value - T(value), and returns the mean square of that: the squared 2-Wasserstein distance. Its gradient
// with respect to values[i] is 2 (value - T(value)) / n. Values are told apart at 1/16384 of their range;
// closer ones share their ranks by linear interpolation, equal ones move together.
double transportResidual(std::span<float> values, std::span<const float> targetQuantiles,
                         TransportScratch& scratch);

// n directions of the given dimension, uniform on the unit sphere; n x dimension.
std::vector<float> randomDirections(std::size_t n, std::size_t dimension, std::mt19937_64& random);

// A pool of random directions with the quantiles of weighted samples along each, from which fresh
// directions are drawn at every step without sorting the reference again.
class DirectionPool {
 public:
  // samples: rows of `dimension` values.
  DirectionPool(std::span<const float> samples, std::size_t dimension, std::size_t directions,
                std::uint64_t seed);

  std::size_t dimension() const { return dimension_; }
  std::size_t size() const { return quantiles_.size() / kQuantiles; }
  std::span<const float> direction(std::size_t i) const { return {&directions_[i * dimension_], dimension_}; }
  std::span<const float> quantiles(std::size_t i) const { return {&quantiles_[i * kQuantiles], kQuantiles}; }

  // n different members, fixed by the seed. n is cut to the size of the pool.
  std::vector<std::size_t> draw(std::size_t n, std::uint64_t seed) const;

 private:
  std::size_t dimension_;
  std::vector<float> directions_;
  std::vector<float> quantiles_;
};

}  // namespace jugendstil
