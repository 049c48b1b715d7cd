// SPDX-License-Identifier: Apache-2.0
// One-dimensional optimal transport, the building block of the sliced Wasserstein distance.
#pragma once

#include <cstdint>
#include <span>
#include <utility>
#include <vector>

namespace jugendstil {

// A distribution on a line as its values at kQuantiles evenly spaced ranks, ascending.
inline constexpr std::size_t kQuantiles = 4096;

// Quantiles of samples (any count above 0, unsorted), interpolated linearly between ranks.
std::vector<float> quantilesOf(std::vector<float> samples);

// Optimal transport of values on a line to a target, for values that need not stand in memory all at once:
// first their range is found, then they are counted in bins, then each is looked up.
class TransportMap {
 public:
  // Bins of equal width over the values' range. Values are told apart at one bin; closer ones share their
  // ranks by linear interpolation, equal ones move together.
  static constexpr std::size_t kBins = 16384;

  TransportMap() = default;
  // For values from low to high.
  TransportMap(float low, float high);

  // Adds the values to kBins counts.
  void count(std::span<const float> values, std::span<std::uint32_t> counts) const;

  // With all values counted.
  void settle(std::span<const std::uint32_t> counts, std::span<const float> targetQuantiles);

  // Replaces each value by how far it lies from where transport sends it, value - T(value), and returns the
  // sum of their squares.
  double residual(std::span<float> values) const;

 private:
  float low_ = 0;
  float scale_ = 0;  // bins in a unit; 0: all values are one
  std::vector<float> first_;
  std::vector<float> span_;
};

// The range of values, at least one.
std::pair<float, float> rangeOf(std::span<const float> values);

// All of it for values that stand in memory: replaces them by value - T(value) and returns the mean square of
// that, the squared 2-Wasserstein distance. Its gradient with respect to values[i] is 2 (value - T(value)) /
// n.
double transportResidual(std::span<float> values, std::span<const float> targetQuantiles);

}  // namespace jugendstil
