// SPDX-License-Identifier: Apache-2.0
#include "transport/directions.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/parallel.h"

namespace jugendstil {

std::vector<float> randomDirections(std::size_t n, std::size_t dimension, std::mt19937_64& random) {
  std::normal_distribution<float> normal;
  std::vector<float> directions(n * dimension);
  for (std::size_t d = 0; d < n; ++d) {
    const std::span<float> v(&directions[d * dimension], dimension);
    float norm = 0;
    for (float& x : v) {
      x = normal(random);
      norm += x * x;
    }
    for (float& x : v) x /= std::sqrt(norm);
  }
  return directions;
}

DirectionPool::DirectionPool(std::span<const float> samples, std::size_t dimension, std::size_t directions,
                             std::uint64_t seed)
    : dimension_(dimension), quantiles_(directions * kQuantiles) {
  std::mt19937_64 random(seed);
  directions_ = randomDirections(directions, dimension, random);
  const std::size_t count = samples.size() / dimension;
  parallelFor(directions, [&](std::size_t d) {
    const auto v = direction(d);
    std::vector<float> projected(count);
    for (std::size_t i = 0; i < count; ++i) {
      projected[i] = std::inner_product(v.begin(), v.end(), samples.begin() + i * dimension, 0.0F);
    }
    const auto q = quantilesOf(std::move(projected));
    std::copy(q.begin(), q.end(), quantiles_.begin() + d * kQuantiles);
  });
}

std::vector<std::size_t> DirectionPool::draw(std::size_t n, std::uint64_t seed) const {
  std::vector<std::size_t> all(size());
  std::iota(all.begin(), all.end(), std::size_t{0});
  std::mt19937_64 random(seed);
  n = std::min(n, all.size());
  for (std::size_t i = 0; i < n; ++i) std::swap(all[i], all[i + random() % (all.size() - i)]);
  all.resize(n);
  return all;
}

}  // namespace jugendstil
