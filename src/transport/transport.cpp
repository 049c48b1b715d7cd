// SPDX-License-Identifier: Apache-2.0
#include "transport/transport.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

#include "base/error.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

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
  const double scale = static_cast<double>(samples.size()) / kQuantiles;
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
  constexpr auto kLast = static_cast<std::int32_t>(TransportMap::kBins) - 1;
  for (std::size_t i = 0; i < n; ++i) {
    const auto key = static_cast<std::int32_t>((values[i] - low) * scale);
    keys[i] = static_cast<std::uint16_t>(key < kLast ? key : kLast);
  }
}

JUGENDSTIL_VECTORISED
float moveValues(float* values, const std::uint16_t* keys, std::size_t n, float low, float scale,
                 const float* first, const float* span) {
  float sum = 0;
#pragma omp simd reduction(+ : sum)
  for (std::size_t i = 0; i < n; ++i) {
    const auto key = static_cast<std::int32_t>(keys[i]);
    const float part = (values[i] - low) * scale - static_cast<float>(key);
    values[i] -= first[key] + part * span[key];
    sum += values[i] * values[i];
  }
  return sum;
}

constexpr std::size_t kBlock = 4096;
using Keys = std::array<std::uint16_t, kBlock>;

template <typename T, typename F>
void eachBlock(std::span<T> values, const F& f) {
  for (std::size_t begin = 0; begin < values.size(); begin += kBlock)
    f(values.subspan(begin, std::min(kBlock, values.size() - begin)));
}

}  // namespace

std::pair<float, float> rangeOf(std::span<const float> values) {
  float low = 0;
  float high = 0;
  findRange(values.data(), values.size(), low, high);
  return {low, high};
}

TransportMap::TransportMap(float low, float high)
    : low_(low), scale_(high > low ? static_cast<float>(kBins) / (high - low) : 0.0F) {}

void TransportMap::count(std::span<const float> values, std::span<std::uint32_t> counts) const {
  Keys keys;
  eachBlock(values, [&](std::span<const float> block) {
    findKeys(block.data(), block.size(), low_, scale_, keys.data());
    for (std::size_t i = 0; i < block.size(); ++i) ++counts[keys[i]];
  });
}

void TransportMap::settle(std::span<const std::uint32_t> counts, std::span<const float> target) {
  first_.assign(kBins, 0.0F);
  span_.assign(kBins, 0.0F);
  if (!(scale_ > 0)) {
    first_[0] = std::accumulate(target.begin(), target.end(), 0.0F) / static_cast<float>(target.size());
    return;
  }
  double n = 0;
  for (const std::uint32_t c : counts) n += c;
  const double step = static_cast<double>(target.size()) / n;
  double before = 0;
  for (std::size_t b = 0; b < kBins; ++b) {
    if (counts[b] == 0) continue;
    // A bin's values take its ranks from the first to the last, in the middle of each.
    const float first = interpolate(target, (before + 0.5) * step - 0.5);
    before += counts[b];
    first_[b] = first;
    span_[b] = interpolate(target, (before - 0.5) * step - 0.5) - first;
  }
}

double TransportMap::residual(std::span<float> values) const {
  Keys keys;
  double sum = 0;
  eachBlock(values, [&](std::span<float> block) {
    findKeys(block.data(), block.size(), low_, scale_, keys.data());
    sum += moveValues(block.data(), keys.data(), block.size(), low_, scale_, first_.data(), span_.data());
  });
  return sum;
}

double transportResidual(std::span<float> values, std::span<const float> target) {
  const auto [low, high] = rangeOf(values);
  TransportMap map(low, high);
  std::vector<std::uint32_t> counts(TransportMap::kBins, 0);
  map.count(values, counts);
  map.settle(counts, target);
  return map.residual(values) / static_cast<double>(values.size());
}

}  // namespace jugendstil
