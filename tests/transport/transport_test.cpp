// SPDX-License-Identifier: Apache-2.0
#include "transport/transport.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <random>

#include "base/error.h"

namespace jugendstil {
namespace {

std::vector<float> normals(std::size_t n, float mean, float deviation, unsigned seed) {
  std::mt19937_64 random(seed);
  std::normal_distribution<float> normal(mean, deviation);
  std::vector<float> values(n);
  for (float& v : values) v = normal(random);
  return values;
}

TEST(Transport, DistanceOfTwoGaussiansIsTheClosedForm) {
  auto values = normals(60000, 0.2F, 0.5F, 1);
  const double squared = transportResidual(values, quantilesOf(normals(60000, 1.0F, 0.8F, 2)));
  EXPECT_NEAR(squared, 0.8 * 0.8 + 0.3 * 0.3, 0.03);
}

TEST(Transport, SameDistributionIsAtRest) {
  auto values = normals(30000, 0, 1, 3);
  const auto target = quantilesOf(values);
  std::reverse(values.begin(), values.end());
  EXPECT_LT(transportResidual(values, target), 1e-3);
}

// Against the definition: sort both, take differences.
TEST(Transport, ResidualsAreThoseOfSorting) {
  const auto values = normals(257, 0.3F, 0.4F, 5);
  const auto samples = normals(kQuantiles, -0.2F, 0.7F, 6);
  const auto target = quantilesOf(samples);
  auto residual = values;
  transportResidual(residual, target);
  std::vector<std::size_t> order(values.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return values[a] < values[b]; });
  for (std::size_t r = 0; r < order.size(); ++r) {
    const double place =
        (static_cast<double>(r) + 0.5) * static_cast<double>(kQuantiles) / static_cast<double>(order.size()) -
        0.5;
    const auto i = static_cast<std::size_t>(place);
    const double there = target[i] + (place - static_cast<double>(i)) * (target[i + 1] - target[i]);
    EXPECT_NEAR(residual[order[r]], values[order[r]] - there, 2e-2) << r;
  }
}

TEST(Transport, GradientMatchesFiniteDifferences) {
  const auto values = normals(500, 0, 0.5F, 7);
  const auto target = quantilesOf(normals(5000, 1, 0.3F, 8));
  auto residual = values;
  transportResidual(residual, target);
  const auto direction = normals(500, 0, 1, 9);
  double slope = 0;
  std::vector<float> plus = values;
  std::vector<float> minus = values;
  for (std::size_t i = 0; i < values.size(); ++i) {
    slope += 2.0 * static_cast<double>(residual[i]) * static_cast<double>(direction[i]) / 500.0;
    plus[i] += 1e-3F * direction[i];
    minus[i] -= 1e-3F * direction[i];
  }
  const double up = transportResidual(plus, target);
  const double down = transportResidual(minus, target);
  EXPECT_NEAR((up - down) / 2e-3, slope, 0.02 * std::fabs(slope));
}

TEST(Transport, ConstantValuesGoToTheMean) {
  std::vector<float> values(100, 0.4F);
  transportResidual(values, quantilesOf({0.0F, 1.0F}));
  for (const float v : values) EXPECT_NEAR(v, -0.1F, 1e-3F);
}

TEST(Transport, NeedsSamples) { EXPECT_THROW(quantilesOf({}), Error); }

}  // namespace
}  // namespace jugendstil
