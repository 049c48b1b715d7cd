// SPDX-License-Identifier: Apache-2.0
#include "image/quick_transfer.h"

#include <cstddef>

#include "base/parallel.h"

namespace jugendstil {
namespace {

JUGENDSTIL_VECTORISED void mix(const float* below, float* above, const float* parts, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) {
    const float under = below[i];
    const float over = above[i];
    const float part = parts[i];
    const float mixed = quickToDisplay(quickToLinear(under) * (1 - part) + quickToLinear(over) * part);
    above[i] = chosen(part >= 1, over, chosen(part <= 0, under, mixed));
  }
}

}  // namespace

void mixInLight(std::span<const float> below, std::span<float> above, std::span<const float> parts) {
  mix(below.data(), above.data(), parts.data(), above.size());
}

}  // namespace jugendstil
