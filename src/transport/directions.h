// SPDX-License-Identifier: Apache-2.0
// Directions along which distributions of many dimensions are looked at one line at a time.
#pragma once

#include <cstdint>
#include <random>
#include <span>
#include <vector>

#include "transport/transport.h"

namespace jugendstil {

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
