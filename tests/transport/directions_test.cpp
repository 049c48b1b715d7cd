// SPDX-License-Identifier: Apache-2.0
#include "transport/directions.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <numeric>
#include <random>

namespace jugendstil {
namespace {

std::vector<float> normals(std::size_t n, unsigned seed) {
  std::mt19937_64 random(seed);
  std::normal_distribution<float> normal;
  std::vector<float> values(n);
  for (float& v : values) v = normal(random);
  return values;
}

TEST(DirectionPool, DrawsDifferentDirectionsFixedBySeed) {
  const DirectionPool pool(normals(300, 1), 3, 40, 9);
  const auto a = pool.draw(6, 5);
  EXPECT_EQ(a, pool.draw(6, 5));
  EXPECT_NE(a, pool.draw(6, 6));
  auto sorted = a;
  std::sort(sorted.begin(), sorted.end());
  EXPECT_EQ(std::unique(sorted.begin(), sorted.end()), sorted.end());
  EXPECT_EQ(pool.draw(100, 1).size(), 40U);
  for (std::size_t d = 0; d < pool.size(); ++d) {
    const auto v = pool.direction(d);
    EXPECT_NEAR(std::inner_product(v.begin(), v.end(), v.begin(), 0.0F), 1.0F, 1e-5F);
  }
}

}  // namespace
}  // namespace jugendstil
