// SPDX-License-Identifier: Apache-2.0
#include "image/oklab.h"

#include <gtest/gtest.h>

namespace jugendstil {
namespace {

// Values of the space's definition (Ottosson 2020).
TEST(Oklab, KnownColours) {
  const Oklab white = oklabOf({1, 1, 1});
  EXPECT_NEAR(white.lightness, 1, 1e-4F);
  EXPECT_NEAR(chroma(white), 0, 1e-4F);
  const Oklab red = oklabOf({1, 0, 0});
  EXPECT_NEAR(red.lightness, 0.62796F, 1e-4F);
  EXPECT_NEAR(red.a, 0.22486F, 1e-4F);
  EXPECT_NEAR(red.b, 0.12585F, 1e-4F);
}

TEST(Oklab, ThereAndBackIsTheSameColour) {
  for (const LinearRgb& c :
       {LinearRgb{0.2F, 0.5F, 0.9F}, LinearRgb{0, 0, 0}, LinearRgb{1.4F, 0.1F, -0.05F}}) {
    const LinearRgb back = linearOf(oklabOf(c));
    EXPECT_NEAR(back.red, c.red, 2e-5F);
    EXPECT_NEAR(back.green, c.green, 2e-5F);
    EXPECT_NEAR(back.blue, c.blue, 2e-5F);
  }
}

}  // namespace
}  // namespace jugendstil
