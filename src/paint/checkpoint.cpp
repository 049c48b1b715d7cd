// SPDX-License-Identifier: Apache-2.0
#include "paint/checkpoint.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

namespace jugendstil {
namespace {

constexpr float kStepsPerWhite = 8192;
constexpr float kMost = 32767;
constexpr std::size_t kChunk = 65536;

template <typename Body>
void eachChunk(std::size_t count, const Body& body) {
  parallelFor((count + kChunk - 1) / kChunk, [&](std::size_t i) {
    const std::size_t begin = i * kChunk;
    for (std::size_t k = begin; k < std::min(count, begin + kChunk); ++k) body(k);
  });
}

}  // namespace

void Checkpoint::keep(std::span<const float> coefficients) {
  steps_.resize(coefficients.size());
  eachChunk(coefficients.size(), [&](std::size_t k) {
    const float steps = std::clamp(coefficients[k] * kStepsPerWhite, -kMost, kMost);
    steps_[k] = static_cast<std::int16_t>(steps + std::copysign(0.5F, steps));
  });
}

void Checkpoint::restore(std::span<float> coefficients) const {
  eachChunk(steps_.size(),
            [&](std::size_t k) { coefficients[k] = static_cast<float>(steps_[k]) / kStepsPerWhite; });
}

}  // namespace jugendstil
