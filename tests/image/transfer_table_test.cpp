// SPDX-License-Identifier: Apache-2.0
#include "image/transfer_table.h"

#include <gtest/gtest.h>

#include <cmath>

#include "image/colour.h"

namespace jugendstil {
namespace {

TEST(TransferTable, IsTheFunctionToWhatSixteenBitsHold) {
  double worst = 0;
  for (int i = 0; i < 1000000; ++i) {
    const float v = static_cast<float>(i) / 1000000;
    worst = std::max(worst, std::abs(1.0 * tableToLinear()(v) - srgbToLinear(v)));
    worst = std::max(worst, std::abs(1.0 * tableToDisplay()(v) - linearToSrgb(v)));
  }
  EXPECT_LT(worst, 1e-6);
}

TEST(TransferTable, OutsideItIsTheFunctionItself) {
  for (const float v : {-0.5F, -0.001F, 1.0F, 1.7F}) {
    EXPECT_EQ(tableToLinear()(v), srgbToLinear(v));
    EXPECT_EQ(tableToDisplay()(v), linearToSrgb(v));
  }
  EXPECT_TRUE(std::isnan(tableToLinear()(NAN)));
}

}  // namespace
}  // namespace jugendstil
