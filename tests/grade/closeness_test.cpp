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
  EXPECT_NEAR(ciede2000({50, 2.6772, -79.7751}, {50, 0, -82.7485}), 2.0425, 1e-4);
  EXPECT_NEAR(ciede2000({50, 0, 0}, {50, -1, 2}), 2.3669, 1e-4);
  EXPECT_NEAR(ciede2000({50, 2.49, -0.001}, {50, -2.49, 0.0009}), 7.1792, 1e-4);
  EXPECT_NEAR(ciede2000({50, 2.5, 0}, {61, -5, 29}), 22.8977, 1e-4);
  EXPECT_NEAR(ciede2000({50, 2.5, 0}, {73, 25, -18}), 27.1492, 1e-4);
  EXPECT_NEAR(ciede2000({60.2574, -34.0099, 36.2677}, {60.4626, -34.1751, 39.4387}), 1.2644, 1e-4);
  EXPECT_NEAR(ciede2000({2.0776, 0.0795, -1.1350}, {0.9033, -0.0636, -0.5514}), 0.9082, 1e-4);
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
