// SPDX-License-Identifier: Apache-2.0
#include "image/cielab.h"

#include <gtest/gtest.h>

namespace jugendstil {
namespace {

TEST(CieLab, HasThePublishedValuesOfPrimaries) {
  const struct {
    LinearRgb rgb;
    CieLab lab;
  } known[] = {{{1, 1, 1}, {100, 0, 0}},
               {{1, 0, 0}, {53.24F, 80.09F, 67.20F}},
               {{0, 1, 0}, {87.73F, -86.18F, 83.18F}},
               {{0, 0, 1}, {32.30F, 79.19F, -107.86F}}};
  for (const auto& k : known) EXPECT_LT(squaredDistance(cieLabOf(k.rgb), k.lab), 0.01F) << k.lab.lightness;
}

TEST(CieLab, GoesBackToTheSameColour) {
  for (const LinearRgb c : {LinearRgb{0.2F, 0.5F, 0.9F}, {0.001F, 0.002F, 0.0F}, {1.2F, -0.05F, 0.3F}}) {
    const LinearRgb back = linearOf(cieLabOf(c));
    EXPECT_NEAR(back.red, c.red, 1e-4);
    EXPECT_NEAR(back.green, c.green, 1e-4);
    EXPECT_NEAR(back.blue, c.blue, 1e-4);
  }
}

}  // namespace
}  // namespace jugendstil
