// SPDX-License-Identifier: Apache-2.0
#include "weave/window.h"

#include <initializer_list>

#include "base/parallel.h"

namespace jugendstil {

JUGENDSTIL_VECTORISED
float windowDistance(const float* a, std::size_t stepA, const float* b, std::size_t stepB) {
  float sums[kWindowRow] = {};
  for (std::size_t r = 0; r < kWindowSide; ++r) {
    for (std::size_t i = 0; i < kWindowRow; ++i) {
      const float d = a[r * stepA + i] - b[r * stepB + i];
      sums[i] += d * d;
    }
  }
  float sum = 0;
  for (const float s : sums) sum += s;
  return sum;
}

JUGENDSTIL_VECTORISED
float weighedWindowDistance(const float* a, const float* weights, const float* b, std::size_t stepB,
                            float most) {
  float sums[kWindowRow] = {};
  const auto add = [&](std::size_t r) {
    for (std::size_t i = 0; i < kWindowRow; ++i) {
      const float d = a[r * kWindowRow + i] - b[r * stepB + i];
      sums[i] += weights[r * kWindowRow + i] * d * d;
    }
  };
  const auto sum = [&] {
    float all = 0;
    for (const float s : sums) all += s;
    return all;
  };
  // The middle rows weigh most: many a bad one is known by them.
  for (std::size_t r = 2; r < 5; ++r) add(r);
  if (sum() > most) return sum();
  for (const std::size_t r : {0, 1, 5, 6}) add(r);
  return sum();
}

JUGENDSTIL_VECTORISED
float blockDistance(const float* a, const float* weights, const float* b, std::size_t stepB,
                    std::size_t length, int rows) {
  float sums[kBlockValues] = {};
  for (int r = 0; r < rows; ++r) {
    for (std::size_t at = 0; at < length; at += kBlockValues) {
      for (std::size_t i = 0; i < kBlockValues; ++i) {
        const float d = a[r * length + at + i] - b[r * stepB + at + i];
        sums[i] += weights[r * length + at + i] * d * d;
      }
    }
  }
  float sum = 0;
  for (const float s : sums) sum += s;
  return sum;
}

}  // namespace jugendstil
