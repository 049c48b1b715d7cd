// SPDX-License-Identifier: Apache-2.0
#include "grade/statistics.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "image/resample.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

TEST(GradeStatistics, ReducingIsTheAverageOverAreas) {
  const Image image = sample(300, 200);
  const Image reduced = reducedPicture(StoredPicture::of(image), 100);
  const Image wanted = resample(image, 100, 67);
  ASSERT_EQ(reduced.width, 100);
  ASSERT_EQ(reduced.height, 67);
  for (std::size_t i = 0; i < reduced.pixels.size(); ++i)
    EXPECT_NEAR(reduced.pixels[i], wanted.pixels[i], 1e-4F);
}

TEST(GradeStatistics, SmallPicturesAreTakenWhole) {
  const Image image = sample(30, 20, 1, 4);
  const Image reduced = reducedPicture(StoredPicture::of(image));
  EXPECT_EQ(reduced.width, 30);
  EXPECT_EQ(reduced.channels, 3);
  EXPECT_EQ(gradeStatistics(reduced).colours.size(), 600U);
}

TEST(GradeStatistics, TheMaskChoosesThePixels) {
  Image image(40, 40, 3, 0.2F);
  Image mask(40, 40, 1);
  for (int y = 0; y < 40; ++y) {
    for (int x = 20; x < 40; ++x) {
      for (int c = 0; c < 3; ++c) image.at(x, y, c) = 0.8F;
      mask.at(x, y, 0) = 1;
    }
  }
  for (const Oklab& c : gradeStatistics(image, &mask).colours) EXPECT_NEAR(toneOf(c), 0.8F, 1e-3F);
  const Image black(3, 3, 1);
  EXPECT_THROW(gradeStatistics(image, &black), Error);
}

TEST(GradeStatistics, TonesOfGreysAreTheirCodeValues) {
  for (float v = 0; v <= 1; v += 0.05F) {
    const Oklab c = oklabOfDisplay({v, v, v});
    EXPECT_NEAR(toneOf(c), v, 1e-4F);
    EXPECT_NEAR(lightnessOfTone(v), c.lightness, 1e-4F);
    EXPECT_NEAR(displayOf(c)[1], v, 1e-4F);
  }
}

TEST(GradeStatistics, PoolingTakesAllParts) {
  const auto dark = gradeStatistics(Image(20, 20, 3, 0.2F));
  const auto light = gradeStatistics(Image(20, 20, 3, 0.9F));
  const auto both = pooledStatistics({dark, light});
  EXPECT_EQ(both.colours.size(), 800U);
  EXPECT_EQ(both.details.size(), 800U);
}

TEST(GradeStatistics, OnePixelIsEnough) {
  const auto s = gradeStatistics(Image(1, 1, 3, 0.5F));
  EXPECT_EQ(s.colours.size(), 1U);
  EXPECT_NEAR(s.detailStrength(0), 0, 1e-6);
}

}  // namespace
}  // namespace jugendstil
