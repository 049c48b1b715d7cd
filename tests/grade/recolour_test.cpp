// SPDX-License-Identifier: Apache-2.0
#include "grade/recolour.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

void expectSame(const ColourStatistics& a, const ColourStatistics& b, double tolerance) {
  for (std::size_t i = 0; i < 3; ++i) {
    EXPECT_NEAR(a.mean[i], b.mean[i], tolerance);
    for (std::size_t j = 0; j < 3; ++j) EXPECT_NEAR(a.covariance[i][j], b.covariance[i][j], tolerance);
  }
}

TEST(MongeKantorovich, CarriesMeanAndCovarianceOver) {
  const Image photo = sample(60, 50, 1);
  Image reference = sample(40, 40, 2);
  for (std::size_t i = 0; i < reference.area(); ++i)
    reference.pixels[i * 3 + 1] = 0.5F * reference.pixels[i * 3] + 0.3F * reference.pixels[i * 3 + 1];
  const auto to = colourStatistics(reference);
  const Image out = recoloured(photo, mongeKantorovich(colourStatistics(photo), to));
  expectSame(colourStatistics(out), to, 2e-4);
}

TEST(MongeKantorovich, SamePictureIsLeftAlone) {
  const Image photo = sample(30, 30);
  const auto s = colourStatistics(photo);
  const Image out = recoloured(photo, mongeKantorovich(s, s));
  for (std::size_t i = 0; i < out.pixels.size(); ++i) EXPECT_NEAR(out.pixels[i], photo.pixels[i], 1e-4F);
}

// For diagonal covariances the map is the ratio of deviations on each axis.
TEST(MongeKantorovich, ClosedFormForIndependentChannels) {
  ColourStatistics from;
  ColourStatistics to;
  for (std::size_t c = 0; c < 3; ++c) {
    from.covariance[c][c] = 0.04;
    to.covariance[c][c] = 0.01 * static_cast<double>((c + 1) * (c + 1));
    to.mean[c] = 0.5;
  }
  const auto map = mongeKantorovich(from, to);
  for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(map.matrix[c][c], 0.5 * static_cast<double>(c + 1), 1e-3);
  EXPECT_NEAR(map.matrix[0][1], 0, 1e-9);
  EXPECT_NEAR(map.matrix[1][2], map.matrix[2][1], 1e-9);
}

TEST(MongeKantorovich, OneColourPicturesStayBounded) {
  const auto flat = colourStatistics(Image(10, 10, 3, 0.3F));
  const auto map = mongeKantorovich(flat, colourStatistics(sample(30, 30)));
  for (const auto& row : map.matrix) {
    for (const double v : row) EXPECT_LE(std::fabs(v), 4.0 + 1e-9);
  }
  const Image out = recoloured(Image(10, 10, 3, 0.3F), map);
  EXPECT_NEAR(out.pixels[0], colourStatistics(sample(30, 30)).mean[0], 1e-5);
}

TEST(MongeKantorovich, NotANumberIsRefused) {
  auto s = colourStatistics(sample(10, 10));
  s.covariance[0][0] = std::numeric_limits<double>::quiet_NaN();
  EXPECT_THROW(mongeKantorovich(s, s), Error);
}

TEST(Pooled, IsTheStatisticsOfAllPixels) {
  const Image a = sample(20, 30, 1);
  Image b = sample(20, 10, 2);
  for (float& v : b.pixels) v *= 0.5F;
  Image both(20, 40);
  std::copy(a.pixels.begin(), a.pixels.end(), both.pixels.begin());
  std::copy(b.pixels.begin(), b.pixels.end(),
            both.pixels.begin() + static_cast<std::ptrdiff_t>(a.pixels.size()));
  auto sa = colourStatistics(a);
  auto sb = colourStatistics(b);
  sa.weight = 3;
  sb.weight = 1;
  expectSame(pooled(sa, sb), colourStatistics(both), 1e-7);
  expectSame(pooled(sb, sa), pooled(sa, sb), 1e-12);
}

TEST(Recoloured, LeavesAlphaAlone) {
  Image image = sample(8, 8, 1, 4);
  const auto map = mongeKantorovich(colourStatistics(image), colourStatistics(sample(8, 8, 5)));
  EXPECT_EQ(recoloured(image, map).at(3, 3, 3), image.at(3, 3, 3));
}

}  // namespace
}  // namespace jugendstil
