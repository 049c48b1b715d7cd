// SPDX-License-Identifier: Apache-2.0
#include "image/planes.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

TEST(Planes, ThereAndBackIsThePicture) {
  const Image picture = testing_support::sample(37, 21);
  const Image back = imageOf(opponentOf(picture));
  for (std::size_t i = 0; i < picture.pixels.size(); ++i)
    EXPECT_NEAR(back.pixels[i], picture.pixels[i], 1e-6F);
}

TEST(Planes, ARectangleIsThatOfTheWhole) {
  const Planes planes = opponentOf(testing_support::sample(37, 21));
  const Image part = imageOf(planes, 5, 3, 20, 11);
  const Image whole = crop(imageOf(planes), 5, 3, 20, 11);
  for (std::size_t i = 0; i < part.pixels.size(); ++i) ASSERT_NEAR(part.pixels[i], whole.pixels[i], 1e-6F);
}

TEST(Planes, TheAxesMayBeTurnedInPlace) {
  Planes planes = opponentOf(testing_support::sample(37, 21));
  Planes elsewhere(37, 21);
  opponentToRgb(planes, elsewhere);
  opponentToRgb(planes, planes);
  EXPECT_EQ(planes.plane, elsewhere.plane);
  Planes turned(37, 21);
  rgbToOpponent(elsewhere, turned);
  rgbToOpponent(planes, planes);
  EXPECT_EQ(planes.plane, turned.plane);
}

}  // namespace
}  // namespace jugendstil
