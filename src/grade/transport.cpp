#include "grade/transport.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "image/error.h"
#include "image/parallel.h"

namespace jugendstil {
namespace {

constexpr std::size_t kBins = 16384;

float interpolate(std::span<const float> sorted, double position) {
  const double p = std::clamp(position, 0.0, static_cast<double>(sorted.size() - 1));
  const auto i = static_cast<std::size_t>(p);
  const std::size_t j = std::min(i + 1, sorted.size() - 1);
  const auto f = static_cast<float>(p - static_cast<double>(i));
  return sorted[i] + f * (sorted[j] - sorted[i]);
}

}  // namespace

std::vector<float> quantilesOf(std::vector<float> samples) {
  if (samples.empty()) throw Error("a distribution needs at least one sample");
  std::sort(samples.begin(), samples.end());
  std::vector<float> quantiles(kQuantiles);
  const double scale = static_cast<double>(samples.size()) / static_cast<double>(kQuantiles);
  for (std::size_t q = 0; q < kQuantiles; ++q) {
    quantiles[q] = interpolate(samples, (static_cast<double>(q) + 0.5) * scale - 0.5);
  }
  return quantiles;
}

namespace {

JUGENDSTIL_VECTORISED
void findRange(const float* values, std::size_t n, float& low, float& high) {
  float least = values[0];
  float most = values[0];
#pragma omp simd reduction(min : least) reduction(max : most)
  for (std::size_t i = 0; i < n; ++i) {
    least = values[i] < least ? values[i] : least;
    most = values[i] > most ? values[i] : most;
  }
  low = least;
  high = most;
}

JUGENDSTIL_VECTORISED
void findKeys(const float* values, std::size_t n, float low, float scale, std::uint16_t* keys) {
  for (std::size_t i = 0; i < n; ++i) {
    const auto key = static_cast<std::int32_t>((values[i] - low) * scale);
    keys[i] = static_cast<std::uint16_t>(
        key < static_cast<std::int32_t>(kBins) ? key : static_cast<std::int32_t>(kBins) - 1);
  }
}

JUGENDSTIL_VECTORISED
double moveValues(float* values, const std::uint16_t* keys, std::size_t n, float low, float scale,
                  const float* first, const float* span) {
  double total = 0;
  constexpr std::size_t kBlock = 4096;
  for (std::size_t begin = 0; begin < n; begin += kBlock) {
    const std::size_t end = begin + kBlock < n ? begin + kBlock : n;
    float sum = 0;
#pragma omp simd reduction(+ : sum)
    for (std::size_t i = begin; i < end; ++i) {
      const auto key = static_cast<std::int32_t>(keys[i]);
      const float part = (values[i] - low) * scale - static_cast<float>(key);
      values[i] -= first[key] + part * span[key];
      sum += values[i] * values[i];
    }
    total += static_cast<double>(sum);
  }
  return total;
}

}  // namespace

double transportResidual(std::span<float> values, std::span<const float> target, TransportScratch& scratch) {
  const std::size_t n = values.size();
  float low = 0;
  float high = 0;
  findRange(values.data(), n, low, high);
  if (!(high > low)) {
    const float mean =
        std::accumulate(target.begin(), target.end(), 0.0F) / static_cast<float>(target.size());
    for (float& v : values) v -= mean;
    return static_cast<double>(values[0]) * static_cast<double>(values[0]);
  }
  const float scale = static_cast<float>(kBins) / (high - low);
  scratch.keys.resize(n);
  findKeys(values.data(), n, low, scale, scratch.keys.data());
  scratch.counts.assign(kBins, 0);
  for (const std::uint16_t key : scratch.keys) ++scratch.counts[key];
  scratch.low.resize(kBins);
  scratch.span.resize(kBins);
  const double step = static_cast<double>(target.size()) / static_cast<double>(n);
  double before = 0;
  for (std::size_t b = 0; b < kBins; ++b) {
    if (scratch.counts[b] == 0) continue;
    // A bin's values take its ranks from the first to the last, in the middle of each.
    const float first = interpolate(target, (before + 0.5) * step - 0.5);
    before += scratch.counts[b];
    scratch.low[b] = first;
    scratch.span[b] = interpolate(target, (before - 0.5) * step - 0.5) - first;
  }
  return moveValues(values.data(), scratch.keys.data(), n, low, scale, scratch.low.data(),
                    scratch.span.data()) /
         static_cast<double>(n);
}

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
  parallelFor(static_cast<int>(directions), [&](int d) {
    const auto v = direction(static_cast<std::size_t>(d));
    std::vector<float> projected(count);
    for (std::size_t i = 0; i < count; ++i) {
      projected[i] = std::inner_product(v.begin(), v.end(),
                                        samples.begin() + static_cast<std::ptrdiff_t>(i * dimension), 0.0F);
    }
    const auto q = quantilesOf(std::move(projected));
    std::copy(q.begin(), q.end(), quantiles_.begin() + d * static_cast<std::ptrdiff_t>(kQuantiles));
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
