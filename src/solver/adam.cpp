// SPDX-License-Identifier: Apache-2.0
#include "solver/adam.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

namespace jugendstil {
namespace {

struct Constants {
  float beta1;
  float beta2;
  float firstScale;   // undoes the bias of the running mean,
  float secondScale;  // and of the running square
  float rate;
};

JUGENDSTIL_VECTORISED
float gather(const float* gradient, float* first, float* second, Constants k, std::size_t n) {
  float sum = 0;
#pragma omp simd reduction(+ : sum)
  for (std::size_t i = 0; i < n; ++i) {
    first[i] = k.beta1 * first[i] + (1 - k.beta1) * gradient[i];
    second[i] = k.beta2 * second[i] + (1 - k.beta2) * gradient[i] * gradient[i];
    sum += second[i];
  }
  return sum;
}

JUGENDSTIL_VECTORISED
void apply(float* parameter, const float* first, const float* second, Constants k, float floor,
           std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) {
    parameter[i] -= k.rate * first[i] * k.firstScale / (std::sqrt(second[i] * k.secondScale) + floor);
  }
}

constexpr std::size_t kChunk = 16384;

}  // namespace

Adam::Adam(std::size_t size, AdamSettings settings)
    : settings_(settings), first_(size, 0.0F), second_(size, 0.0F) {}

void Adam::reset() {
  steps_ = 0;
  std::fill(first_.begin(), first_.end(), 0.0F);
  std::fill(second_.begin(), second_.end(), 0.0F);
}

void Adam::exchange(StateExchange& with) {
  with.value(steps_);
  with.values(first_);
  with.values(second_);
}

void Adam::move(std::span<float> parameters, std::span<const float> gradient, std::size_t begin, float rate) {
  const auto power = static_cast<float>(steps_);
  const Constants k{settings_.beta1, settings_.beta2, 1.0F / (1.0F - std::pow(settings_.beta1, power)),
                    1.0F / (1.0F - std::pow(settings_.beta2, power)), rate};
  const std::size_t count = parameters.size();
  const auto chunks = static_cast<int>((count + kChunk - 1) / kChunk);
  const auto chunk = [&](int i) {
    const std::size_t at = i * kChunk;
    return std::make_pair(at, std::min(kChunk, count - at));
  };
  // Sums by chunk, added in order, do not depend on the number of threads.
  std::vector<float> sums(chunks);
  parallelFor(chunks, [&](int i) {
    const auto [at, n] = chunk(i);
    sums[i] = gather(&gradient[at], &first_[begin + at], &second_[begin + at], k, n);
  });
  double total = 0;
  for (const float s : sums) total += s;
  const double mean = total * k.secondScale / static_cast<double>(std::max<std::size_t>(1, count));
  const float floor = std::max(1e-20F, settings_.floor * static_cast<float>(std::sqrt(mean)));
  parallelFor(chunks, [&](int i) {
    const auto [at, n] = chunk(i);
    apply(&parameters[at], &first_[begin + at], &second_[begin + at], k, floor, n);
  });
}

}  // namespace jugendstil
