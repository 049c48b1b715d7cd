// SPDX-License-Identifier: Apache-2.0
// Which positions of a band are looked at, where weights leave some out.
#pragma once

#include <algorithm>
#include <cstddef>
#include <span>
#include <vector>

namespace jugendstil {

// Those of more than half of the largest weight, in order; none where there are no weights.
inline std::vector<std::size_t> heavyPlaces(std::span<const float> weights) {
  std::vector<std::size_t> places;
  if (weights.empty()) return places;
  const float half = *std::max_element(weights.begin(), weights.end()) / 2;
  for (std::size_t i = 0; i < weights.size(); ++i) {
    if (weights[i] > half) places.push_back(i);
  }
  return places;
}

}  // namespace jugendstil
