// SPDX-License-Identifier: Apache-2.0
#include "report/axis.h"

#include <gtest/gtest.h>

namespace jugendstil {
namespace {

using Numbers = std::vector<double>;

TEST(Axis, HasRoundNumbers) {
  EXPECT_EQ(roundNumbers(0, 370, 6), (Numbers{0, 100, 200, 300}));
  EXPECT_EQ(roundNumbers(0, 18, 6, true), (Numbers{0, 5, 10, 15}));
  EXPECT_EQ(roundNumbers(7, 12, 6, true), (Numbers{7, 8, 9, 10, 11, 12}));
  EXPECT_EQ(roundNumbers(0, 0.9, 6), (Numbers{0, 0.2, 0.4, 0.6000000000000001, 0.8}));
  EXPECT_EQ(roundNumbers(5, 6, 6, true), (Numbers{5, 6}));
  EXPECT_EQ(roundNumbers(3, 3, 6), (Numbers{3}));
  EXPECT_EQ(roundNumbers(-12, 12, 5), (Numbers{-10, 0, 10}));
}

TEST(Axis, NeverHasMoreThanWereAskedFor) {
  for (double high = 0.013; high < 1e5; high *= 1.7) {
    for (int most = 2; most < 9; ++most) {
      const Numbers numbers = roundNumbers(0, high, most);
      EXPECT_LE(static_cast<int>(numbers.size()), most) << high;
      EXPECT_GE(numbers.size(), 1U) << high;
      EXPECT_LE(numbers.back(), high * (1 + 1e-6));
      // Not so few that the axis is bare.
      EXPECT_GE(static_cast<int>(numbers.size()), most >= 4 ? most / 3 + 1 : 1) << high << ", " << most;
    }
  }
}

TEST(Axis, RoundsUp) {
  EXPECT_DOUBLE_EQ(roundedUp(0.03), 0.05);
  EXPECT_DOUBLE_EQ(roundedUp(1), 1);
  EXPECT_DOUBLE_EQ(roundedUp(1.1), 2);
  EXPECT_DOUBLE_EQ(roundedUp(700), 1000);
}

}  // namespace
}  // namespace jugendstil
