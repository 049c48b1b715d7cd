// SPDX-License-Identifier: Apache-2.0
#include "paint/likeness.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "image/mask.h"

namespace jugendstil {
namespace {

Image leftHalf(int width, int height) {
  Image mask(width, height, 1);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width / 2; ++x) mask.at(x, y, 0) = 1;
  }
  return mask;
}

TEST(Likeness, IsTheUsualOneWhereNothingIsHeld) {
  const Likeness likeness = likenessWith(40, {}, {30, 20});
  EXPECT_EQ(likeness.usual, 40);
  EXPECT_TRUE(likeness.here.empty());
  EXPECT_TRUE(heldMore(likeness, {30, 20}).empty());
}

TEST(Likeness, PartsHaveTheirsAndTheLaterOneLiesAbove) {
  const Image half(40, 20, 1, 0.5F);
  const Likeness likeness = likenessWith(40, {{leftHalf(80, 40), 90}, {half, 20}}, {40, 20});
  EXPECT_NEAR(likeness.here.at(5, 10, 0), 0.55F, 1e-5F);   // half-way from 90 to 20
  EXPECT_NEAR(likeness.here.at(35, 10, 0), 0.30F, 1e-5F);  // half-way from 40 to 20
}

TEST(Likeness, WhatIsHeldMoreCountsAsItsOwnLikenessWould) {
  const Image more = heldMore(likenessWith(50, {{leftHalf(40, 20), 76}}, {40, 20}), {40, 20});
  EXPECT_NEAR(more.at(2, 10, 0),
              contentWeight(76, ContentKind::features) / contentWeight(50, ContentKind::features), 1e-3);
  EXPECT_NEAR(more.at(2, 10, 0), layoutWeight(76) / layoutWeight(50), 1e-3);
  EXPECT_NEAR(more.at(38, 10, 0), 1, 1e-5);
}

TEST(Likeness, WhatReferencesThatBleachRaiseBeyondAHundredStaysAsUsualBesideAPart) {
  const Image more = heldMore(likenessWith(116, {{leftHalf(40, 20), 50}}, {40, 20}), {40, 20});
  EXPECT_NEAR(more.at(38, 10, 0), 1, 1e-5);
  EXPECT_LT(more.at(2, 10, 0), 0.1F);
}

TEST(Likeness, AMaskThatIsBlackIsRefused) {
  EXPECT_THROW(likenessWith(50, {{Image(8, 8, 1), 80}}, {8, 8}), UsageError);
}

}  // namespace
}  // namespace jugendstil
