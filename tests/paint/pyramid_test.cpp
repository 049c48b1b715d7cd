// SPDX-License-Identifier: Apache-2.0
#include "paint/pyramid.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

TEST(Pyramid, ReconstructionIsExact) {
  const Pyramid pyramid(64, 48);
  const Planes p = opponentOf(testing_support::sample(64, 48));
  Planes back(64, 48);
  pyramid.reconstruct(pyramid.decompose(p), back);
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < p.area(); ++i) EXPECT_NEAR(back.plane[c][i], p.plane[c][i], 2e-6F);
  }
}

// <reconstruct(x), g> = <x, pullBack(g)>
TEST(Pyramid, PullBackIsTheTranspose) {
  const Pyramid pyramid(48, 32);
  const Planes g = opponentOf(testing_support::sample(48, 32, 3));
  std::vector<float> x(pyramid.size());
  for (std::size_t i = 0; i < x.size(); ++i) x[i] = static_cast<float>(i * 7919 % 101) / 50.0F - 1.0F;
  Planes rebuilt(48, 32);
  pyramid.reconstruct(x, rebuilt);
  std::vector<float> pulled(x.size());
  pyramid.pullBack(g, pulled);
  double left = 0;
  double right = 0;
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < g.area(); ++i)
      left += static_cast<double>(rebuilt.plane[c][i]) * static_cast<double>(g.plane[c][i]);
  }
  for (std::size_t i = 0; i < x.size(); ++i)
    right += static_cast<double>(x[i]) * static_cast<double>(pulled[i]);
  EXPECT_NEAR(left, right, 1e-4 * std::abs(left));
}

TEST(Pyramid, CoarseCoefficientsMakeSmoothPictures) {
  const Pyramid pyramid(32, 32);
  std::vector<float> x(pyramid.size(), 0.0F);
  x[pyramid.ranges()[4 * 3].begin] = 1;
  Planes p(32, 32);
  pyramid.reconstruct(x, p);
  float worst = 0;
  for (std::size_t i = 0; i + 1 < 32; ++i)
    worst = std::max(worst, std::abs(p.plane[0][i + 1] - p.plane[0][i]));
  EXPECT_LT(worst, 0.1F);
}

TEST(Pyramid, RefusesSidesThatDoNotHalve) { EXPECT_THROW(Pyramid(40, 32), Error); }

}  // namespace
}  // namespace jugendstil
