// SPDX-License-Identifier: Apache-2.0
#include "grade/tone.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "base/error.h"

namespace jugendstil {
namespace {

std::vector<float> gaussian(double mean, double deviation) {
  std::mt19937 random(5);
  std::normal_distribution<double> normal(mean, deviation);
  std::vector<float> many(20000);
  for (float& v : many) v = static_cast<float>(std::clamp(normal(random), 0.0, 1.0));
  std::sort(many.begin(), many.end());
  std::vector<float> out;
  for (std::size_t i = 0; i < 256; ++i) out.push_back(many[i * many.size() / 256]);
  return out;
}

TEST(MonotoneCurve, PassesThroughItsPointsWithoutOvershoot) {
  const MonotoneCurve curve({{0, 0}, {0.2F, 0.5F}, {0.5F, 0.52F}, {1, 1}});
  for (const auto& [x, y] : curve.points()) EXPECT_NEAR(curve(x), y, 1e-6F);
  float last = -1;
  for (int i = 0; i <= 1000; ++i) {
    const float y = curve(static_cast<float>(i) / 1000);
    EXPECT_GE(y, last);
    last = y;
  }
  EXPECT_LE(curve(0.35F), 0.52F);
  EXPECT_EQ(curve(2), 1);
  for (const float x : {0.1F, 0.3F, 0.8F}) {
    EXPECT_NEAR(curve.slope(x), (curve(x + 1e-3F) - curve(x - 1e-3F)) / 2e-3F, 1e-2F);
  }
}

TEST(MonotoneCurve, PointsThatFallAreRefused) {
  EXPECT_THROW(MonotoneCurve({{0, 0}, {0.5F, 0.6F}, {1, 0.5F}}), UsageError);
  EXPECT_THROW(MonotoneCurve({{0, 0}, {0, 1}}), UsageError);
  EXPECT_THROW(MonotoneCurve({{0, 0}}), UsageError);
}

// Between Gaussians, optimal transport is the line of their means and deviations.
TEST(MatchTone, CarriesAGaussianToAGaussian) {
  const MonotoneCurve curve = matchTone(gaussian(0.4, 0.07), gaussian(0.55, 0.1));
  for (const double x : {0.3, 0.35, 0.4, 0.45, 0.5}) {
    EXPECT_NEAR(static_cast<double>(curve(static_cast<float>(x))), 0.55 + (x - 0.4) / 0.7, 0.015) << x;
  }
}

TEST(MatchTone, TheSameTonesGiveTheIdentity) {
  const auto tones = gaussian(0.5, 0.2);
  const MonotoneCurve curve = matchTone(tones, tones);
  for (float x = 0; x <= 1; x += 0.01F) EXPECT_NEAR(curve(x), x, 1e-3F);
}

TEST(MatchTone, SlopesStayBoundedAndNothingClips) {
  // A sky of nearly one tone that the reference spreads over everything.
  const MonotoneCurve curve = matchTone(gaussian(0.7, 0.01), gaussian(0.5, 0.25));
  EXPECT_GE(curve(0), 0);
  EXPECT_LE(curve(1), 1);
  for (float x = 0.02F; x < 0.98F; x += 0.01F) {
    const double slope = static_cast<double>(curve(x + 0.01F) - curve(x)) / 0.01;
    EXPECT_GE(slope, kLeastSlope * 0.5);
    EXPECT_LE(slope, (x < 0.22F ? kMostShadowSlope : kMostSlope) * 1.05) << x;
  }
}

TEST(MatchTone, LiftedBlacksAreFlatSoThatTheirGrainStaysHidden) {
  const MonotoneCurve curve = matchTone(gaussian(0.15, 0.08), gaussian(0.5, 0.14));
  EXPECT_GT(curve(0), 0.15F);
  EXPECT_LE((curve(0.08F) - curve(0.02F)) / 0.06F, 0.75F);
  // Blacks that stay black may be stretched.
  const MonotoneCurve stretched = matchTone(gaussian(0.15, 0.04), gaussian(0.3, 0.1));
  EXPECT_GT((stretched(0.2F) - stretched(0.1F)) / 0.1F, 1.4F);
}

TEST(MatchTone, OneToneIsNoFailure) {
  const MonotoneCurve curve = matchTone(std::vector<float>(256, 0.5F), std::vector<float>(256, 0.3F));
  EXPECT_NEAR(curve(0.5F), 0.3F, 0.02F);
}

}  // namespace
}  // namespace jugendstil
