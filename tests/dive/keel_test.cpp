// SPDX-License-Identifier: Apache-2.0
#include "dive/keel.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

Image lighter(Image picture, float by, float contrast) {
  for (float& v : picture.pixels) v = std::clamp(0.5F + contrast * (v - 0.5F) + by, 0.0F, 1.0F);
  return picture;
}

TEST(DiveKeel, LeavesAPictureThatIsOnItAsItIs) {
  const Image picture = sample(96, 80);
  const Image out = onKeel(picture, keelOf(picture));
  for (std::size_t i = 0; i < out.pixels.size(); ++i)
    ASSERT_NEAR(out.pixels[i], picture.pixels[i], 0.5 / 255);
}

TEST(DiveKeel, BringsLightnessAndColourBack) {
  const Image picture = sample(96, 80);
  const Keel wanted = keelOf(picture);
  const Keel is = keelOf(onKeel(lighter(picture, 0.08F, 0.9F), wanted));
  EXPECT_NEAR(is.lightness, wanted.lightness, 0.004);
  EXPECT_NEAR(is.chroma / wanted.chroma, 1, 0.05);
}

TEST(DiveKeel, DetailThatRunsAwayIsHeldInAFewFrames) {
  const Image picture = sample(96, 80);
  const Keel wanted = keelOf(picture);
  Image out = lighter(picture, 0, 1.8F);
  ASSERT_GT(keelOf(out).detail[1], 2 * wanted.detail[1]);
  for (int i = 0; i < 6; ++i) out = onKeel(out, wanted);
  for (std::size_t i = 0; i < wanted.detail.size(); ++i)
    EXPECT_LT(keelOf(out).detail[i], 1.1 * wanted.detail[i]) << i;
}

TEST(DiveKeel, StrengthsAddUpInSquares) {
  Keel none;
  Keel full;
  full.lightness = 0.4;
  full.detail[2] = 0.04;
  EXPECT_DOUBLE_EQ(betweenStrengths(none, full, 0.5).lightness, 0.2);
  EXPECT_DOUBLE_EQ(betweenStrengths(none, full, 0.5).detail[2], 0.01);
  EXPECT_DOUBLE_EQ(between(none, full, 0.5).detail[2], 0.02);
}

}  // namespace
}  // namespace jugendstil
