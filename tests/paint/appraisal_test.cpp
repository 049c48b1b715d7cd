// SPDX-License-Identifier: Apache-2.0
#include "paint/appraisal.h"

#include <gtest/gtest.h>

#include <numeric>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;
using testing_support::smallChain;

double sumOf(const std::vector<double>& values) { return std::accumulate(values.begin(), values.end(), 0.0); }

TEST(Appraisal, APhotoIsItsOwnDrawingAndAReferenceItsOwnStyle) {
  const Image photo = sample(96, 80, 1);
  const Image reference = sample(96, 80, 9);
  Appraiser appraiser(smallChain(), photo, {{reference, 1}}, {96, 80});
  const Appraisal own = appraiser.of(photo);
  EXPECT_NEAR(*own.content, 0, 1e-5);
  EXPECT_NEAR(*own.similarity, 1, 1e-6);
  const Appraisal styled = appraiser.of(reference);
  ASSERT_EQ(styled.style.size(), 3U);
  EXPECT_LT(sumOf(styled.style), 0.1 * sumOf(own.style));
  for (const double d : own.style) EXPECT_LE(d, 1);
  EXPECT_LT(*styled.colour, 0.1 * *own.colour);
  EXPECT_GT(*styled.content, 0.01);
  EXPECT_LT(*styled.similarity, 0.9);
}

TEST(Appraisal, LeavesOutWhatThereIsNothingToCompareWith) {
  const Image picture = sample(64, 64);
  Appraiser ofPhoto(smallChain(), picture, {}, {64, 64});
  EXPECT_TRUE(ofPhoto.of(picture).style.empty());
  EXPECT_FALSE(ofPhoto.of(picture).colour.has_value());
  Appraiser ofReference(smallChain(), {}, {{picture, 1}}, {64, 64});
  EXPECT_FALSE(ofReference.of(picture).content.has_value());
  EXPECT_FALSE(ofReference.of(picture).similarity.has_value());
}

TEST(Appraisal, ReferencesCountByTheirShares) {
  const Image one(80, 80, 3, 0.2F);
  const Image other(80, 80, 3, 0.8F);
  const auto colour = [&](double share) {
    Appraiser appraiser(smallChain(), {}, {{one, share}, {other, 1}}, {80, 80});
    return *appraiser.of(one).colour;
  };
  EXPECT_LT(colour(9), 0.6 * colour(1));
}

}  // namespace
}  // namespace jugendstil
