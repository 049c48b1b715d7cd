// SPDX-License-Identifier: Apache-2.0
#include "report/views.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

TEST(Views, ADividerHasTheFirstPictureBeforeItAndTheSecondBeyond) {
  const Image black(40, 20, 3, 0.0F);
  const Image white(40, 20, 3, 1.0F);
  const Image across = dividedView(black, white, {.at = 0.25});
  EXPECT_EQ(across.at(8, 10, 0), 0.0F);
  EXPECT_EQ(across.at(11, 10, 0), 1.0F);
  EXPECT_GT(across.at(10, 10, 0), 0.9F);  // the line itself
  const Image level = dividedView(black, white, {.at = 0.5, .level = true});
  EXPECT_EQ(level.at(39, 8, 2), 0.0F);
  EXPECT_EQ(level.at(0, 11, 2), 1.0F);
  EXPECT_EQ(dividedView(black, white, {.at = 0}).pixels, white.pixels);
  EXPECT_EQ(dividedView(black, white, {.at = 1}).pixels, black.pixels);
}

TEST(Views, ASoftDividerRisesEvenlyOverItsWidth) {
  const Image soft = dividedView(Image(40, 2, 3, 0.0F), Image(40, 2, 3, 1.0F), {.at = 0.5, .soft = 20});
  for (int x = 1; x < 40; ++x) EXPECT_GE(soft.at(x, 0, 1), soft.at(x - 1, 0, 1));
  EXPECT_EQ(soft.at(9, 0, 1), 0.0F);
  EXPECT_EQ(soft.at(30, 0, 1), 1.0F);
  EXPECT_NEAR(soft.at(19, 0, 1) + soft.at(20, 0, 1), 1.0F, 1e-5F);
  EXPECT_GT(soft.at(14, 0, 1), 0.05F);
}

TEST(Views, ASlideBeginsAndEndsInTheMiddleAndShowsBothWhole) {
  EXPECT_NEAR(slidingPlace(0), 0.5, 1e-9);
  EXPECT_NEAR(slidingPlace(0.25), 1, 1e-9);
  EXPECT_NEAR(slidingPlace(0.75), 0, 1e-9);
  EXPECT_NEAR(slidingPlace(1), 0.5, 1e-9);
}

TEST(Views, ADifferenceIsAbsoluteAndBrightened) {
  const Image d = differenceView(Image(3, 3, 3, 0.5F), Image(3, 3, 3, 0.6F), 4);
  EXPECT_NEAR(d.at(1, 1, 1), 0.4F, 1e-5F);
  EXPECT_EQ(differenceView(Image(3, 3, 3, 1.0F), Image(3, 3, 3, 0.0F), 4).at(0, 0, 0), 1.0F);
  EXPECT_THROW(differenceView(Image(3, 3), Image(4, 3), 1), Error);
}

TEST(Views, MagnifiedPixelsAreSquares) {
  const Image picture = sample(20, 16);
  const Image large = magnified(picture, {5, 4, 6, 3}, 4);
  ASSERT_EQ(large.width, 24);
  ASSERT_EQ(large.height, 12);
  for (int y = 0; y < 12; ++y) {
    for (int x = 0; x < 24; ++x) EXPECT_EQ(large.at(x, y, 2), picture.at(5 + x / 4, 4 + y / 4, 2));
  }
  EXPECT_THROW(magnified(picture, {15, 4, 6, 3}, 4), Error);
}

TEST(Views, BusyPlacesAreWhereTheDrawingIs) {
  Image picture(120, 80, 3, 0.5F);
  for (int y = 50; y < 70; ++y) {
    for (int x = 80; x < 110; ++x) picture.at(x, y, 1) = (x + y) % 2 == 0 ? 0.0F : 1.0F;
  }
  const auto places = busyPlaces(picture, 24, 16, 2);
  ASSERT_EQ(places.size(), 2U);
  EXPECT_GE(places[0].x, 80 - 6);
  EXPECT_LE(places[0].x + places[0].width, 110 + 6);
  EXPECT_GE(places[0].y, 50 - 4);
  const bool apart = std::fabs(places[0].x - places[1].x) >= 40 || std::fabs(places[0].y - places[1].y) >= 26;
  EXPECT_TRUE(apart);
  // Larger than the picture: all of it.
  const auto whole = busyPlaces(picture, 500, 500, 3);
  ASSERT_EQ(whole.size(), 1U);
  EXPECT_EQ(whole[0].width, 120);
  EXPECT_EQ(whole[0].height, 80);
}

}  // namespace
}  // namespace jugendstil
