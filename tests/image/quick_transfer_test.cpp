// SPDX-License-Identifier: Apache-2.0
#include "image/quick_transfer.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "image/colour.h"

namespace jugendstil {
namespace {

double worstOf(float from, float to, float (*quick)(float), float (*exact)(float)) {
  double worst = 0;
  for (int i = 0; i <= 1000000; ++i) {
    const float v = from + (to - from) * static_cast<float>(i) / 1000000;
    worst = std::max(worst, std::abs(1.0 * quick(v) - exact(v)) / std::max(1.0F, std::abs(exact(v))));
  }
  return worst;
}

TEST(QuickTransfer, IsTheFunctionToWhatSixteenBitsHold) {
  EXPECT_LT(worstOf(0, 1, quickToLinear, srgbToLinear), 1e-6);
  EXPECT_LT(worstOf(0, 1, quickToDisplay, linearToSrgb), 1e-6);
}

TEST(QuickTransfer, GoesOnBelowBlackAndAboveWhite) {
  EXPECT_LT(worstOf(-1, 0, quickToLinear, srgbToLinear), 1e-6);
  EXPECT_LT(worstOf(-1, 0, quickToDisplay, linearToSrgb), 1e-6);
  EXPECT_LT(worstOf(1, 100, quickToLinear, srgbToLinear), 3e-6);
  EXPECT_LT(worstOf(1, 10000, quickToDisplay, linearToSrgb), 3e-6);
  EXPECT_EQ(quickToLinear(0), 0);
  EXPECT_EQ(quickToDisplay(0), 0);
}

TEST(QuickTransfer, MixesByPartsAndLeavesWholeOnesAlone) {
  const std::array<float, 5> below{0.2F, 0.2F, 0.2F, -0.1F, 1.5F};
  std::array<float, 5> above{0.8F, 0.8F, 0.8F, 0.3F, 0.9F};
  const std::array<float, 5> parts{0, 1, 0.25F, 0.5F, 0.5F};
  const auto before = above;
  mixInLight(below, above, parts);
  EXPECT_EQ(above[0], below[0]);
  EXPECT_EQ(above[1], before[1]);
  for (const std::size_t i : {2, 3, 4}) {
    EXPECT_NEAR(above[i],
                linearToSrgb(srgbToLinear(below[i]) * (1 - parts[i]) + srgbToLinear(before[i]) * parts[i]),
                2e-6F);
  }
}

}  // namespace
}  // namespace jugendstil
