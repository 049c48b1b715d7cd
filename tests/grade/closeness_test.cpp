// SPDX-License-Identifier: Apache-2.0
#include "grade/closeness.h"

#include <gtest/gtest.h>

#include <cmath>

#include "grade/statistics.h"
#include "support/support.h"

namespace jugendstil {
namespace {

// Pairs published with the formula (Sharma, Wu & Dalal 2005, table 1).
TEST(Ciede2000, PublishedPairs) {
  EXPECT_NEAR(ciede2000({50, 2.6772F, -79.7751F}, {50, 0, -82.7485F}), 2.0425, 1e-4);
  EXPECT_NEAR(ciede2000({50, 0, 0}, {50, -1, 2}), 2.3669, 1e-4);
  EXPECT_NEAR(ciede2000({50, 2.49F, -0.001F}, {50, -2.49F, 0.0009F}), 7.1792, 1e-4);
  EXPECT_NEAR(ciede2000({50, 2.5F, 0}, {61, -5, 29}), 22.8977, 1e-4);
  EXPECT_NEAR(ciede2000({50, 2.5F, 0}, {73, 25, -18}), 27.1492, 1e-4);
  EXPECT_NEAR(ciede2000({60.2574F, -34.0099F, 36.2677F}, {60.4626F, -34.1751F, 39.4387F}), 1.2644, 1e-4);
  EXPECT_NEAR(ciede2000({2.0776F, 0.0795F, -1.1350F}, {0.9033F, -0.0636F, -0.5514F}), 0.9082, 1e-4);
}

TEST(Closeness, LabOfWhiteAndGrey) {
  const CieLab white = cieLabOf(oklabOf({1, 1, 1}));
  EXPECT_NEAR(white.lightness, 100, 0.02);
  EXPECT_NEAR(white.a, 0, 0.05);
  EXPECT_NEAR(white.b, 0, 0.05);
  EXPECT_NEAR(cieLabOf(oklabOf({0.18F, 0.18F, 0.18F})).lightness, 49.496, 0.02);
}

TEST(Closeness, ShiftsAreMeasuredExactly) {
  auto colours = gradeStatistics(testing_support::sample(80, 60)).colours;
  auto moved = colours;
  for (Oklab& c : moved) c.lightness += 0.1F;
  EXPECT_NEAR(slicedDistance(colours, colours), 0, 1e-6);
  // Over directions the squared part along an axis is a third on average.
  EXPECT_NEAR(slicedDistance(colours, moved), 0.1 / std::sqrt(3.0), 0.008);
  EXPECT_NEAR(quantileDistance(colours, colours), 0, 1e-9);
  EXPECT_GT(quantileDistance(colours, moved), 5);
}

}  // namespace
}  // namespace jugendstil
