// SPDX-License-Identifier: Apache-2.0
#include "paint/calm.h"

#include <gtest/gtest.h>

#include <cmath>

#include "image/colour.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

// A grey of this lightness in Oklab.
Image grey(float lightness) { return Image(40, 30, 3, linearToSrgb(lightness * lightness * lightness)); }

TEST(Calm, ChangesAreCountedInStepsThatCanJustBeSeen) {
  EXPECT_EQ(visibleChange(sample(40, 30), sample(40, 30)), 0);
  EXPECT_NEAR(visibleChange(grey(0.5F), grey(0.52F)), 1, 0.01);
  EXPECT_NEAR(visibleChange(grey(0.2F), grey(0.26F)), 3, 0.01);
}

TEST(Calm, WhatIsFinerThanTheEyeIsNotCounted) {
  Image grain = grey(0.5F);
  for (int y = 0; y < grain.height; ++y) {
    for (int x = 0; x < grain.width; ++x) {
      for (int c = 0; c < 3; ++c) grain.at(x, y, c) += (x + y) % 2 == 0 ? 0.06F : -0.06F;
    }
  }
  EXPECT_LT(visibleChange(grey(0.5F), grain), 0.6);
  Image patches = grey(0.5F);
  for (int y = 0; y < grain.height; ++y) {
    for (int x = 0; x < grain.width; ++x) {
      for (int c = 0; c < 3; ++c) patches.at(x, y, c) += (x / 10 + y / 10) % 2 == 0 ? 0.06F : -0.06F;
    }
  }
  EXPECT_GT(visibleChange(grey(0.5F), patches), 2);
}

TEST(Calm, IsCalmOnlyWhereTheRestWouldNotBeSeen) {
  Calm calm;
  EXPECT_FALSE(calm.look(grey(0.5F), 10, 200)) << "nothing to compare with";
  EXPECT_FALSE(calm.look(grey(0.6F), 20, 200));
  EXPECT_FALSE(calm.look(grey(0.6F), 25, 200)) << "between two looks";
  EXPECT_TRUE(calm.look(grey(0.6F), 30, 200));
  // A slow change goes on for long.
  Calm slow;
  EXPECT_FALSE(slow.look(grey(0.5F), 10, 2000));
  EXPECT_FALSE(slow.look(grey(0.51F), 20, 2000));
  EXPECT_TRUE(slow.look(grey(0.52F), 30, 50));
}

}  // namespace
}  // namespace jugendstil
