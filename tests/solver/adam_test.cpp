// SPDX-License-Identifier: Apache-2.0
#include "solver/adam.h"

#include <gtest/gtest.h>

#include <cmath>

namespace jugendstil {
namespace {

TEST(Adam, FirstStepGoesTheRateAgainstTheGradient) {
  Adam adam(2, {0.9F, 0.95F, 0.0F});
  std::vector<float> x{1, 1};
  adam.beginStep();
  adam.move(x, std::vector<float>{5.0F, -0.001F}, 0, 0.1F);
  EXPECT_NEAR(x[0], 0.9F, 1e-5F);
  EXPECT_NEAR(x[1], 1.1F, 1e-4F);
}

TEST(Adam, FollowsThePapersRecursion) {
  Adam adam(1, {0.9F, 0.95F, 0.0F});
  std::vector<float> x{0};
  double m = 0;
  double v = 0;
  double expected = 0;
  for (int t = 1; t <= 20; ++t) {
    const double g = std::sin(0.7 * t);
    m = 0.9 * m + 0.1 * g;
    v = 0.95 * v + 0.05 * g * g;
    expected -= 0.01 * (m / (1 - std::pow(0.9, t))) / std::sqrt(v / (1 - std::pow(0.95, t)));
    adam.beginStep();
    adam.move(x, std::vector<float>{static_cast<float>(g)}, 0, 0.01F);
  }
  EXPECT_NEAR(x[0], expected, 1e-4);
}

TEST(Adam, FloorKeepsTinyGradientsFromMovingFar) {
  std::vector<float> gradient(100, 1.0F);
  gradient[7] = 0.001F;
  std::vector<float> x(100, 0.0F);
  Adam adam(100, {0.9F, 0.95F, 0.2F});
  adam.beginStep();
  adam.move(x, gradient, 0, 0.1F);
  EXPECT_LT(std::fabs(x[7]), 0.01F * std::fabs(x[0]));
}

TEST(Adam, MinimisesASquareAndResetForgets) {
  std::vector<float> x{3, -2};
  Adam adam(2, {});
  for (int i = 0; i < 400; ++i) {
    adam.beginStep();
    adam.move(x, std::vector<float>{2 * x[0], 20 * x[1]}, 0, 0.05F);
  }
  EXPECT_NEAR(x[0], 0, 0.05F);
  EXPECT_NEAR(x[1], 0, 0.05F);
  adam.reset();
  std::vector<float> y{1, 1};
  adam.beginStep();
  adam.move(std::span(y).subspan(1), std::vector<float>{1.0F}, 1, 0.1F);
  EXPECT_NEAR(y[1], 0.9F, 0.03F);
  EXPECT_EQ(y[0], 1);  // outside the range that was moved
}

}  // namespace
}  // namespace jugendstil
