// SPDX-License-Identifier: Apache-2.0
// What a channel's activations are measured in.
#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

namespace jugendstil {

// One over each channel's deviation in the references, from their second moments (C x C) and means. A channel
// that hardly varies there is not blown up to the weight of the others: half of the mean variance is added.
inline std::vector<float> channelUnits(const std::vector<float>& gram, const std::vector<float>& mean) {
  constexpr double kVarianceFloor = 0.5;
  const std::size_t n = mean.size();
  std::vector<float> unit(n);
  double average = 0;
  for (std::size_t c = 0; c < n; ++c) {
    unit[c] = std::max(gram[c * n + c] - mean[c] * mean[c], 0.0F);
    average += unit[c] / static_cast<double>(n);
  }
  const auto floor = static_cast<float>(kVarianceFloor * average) + 1e-8F;
  for (float& u : unit) u = 1.0F / std::sqrt(u + floor);
  return unit;
}

}  // namespace jugendstil
