// SPDX-License-Identifier: Apache-2.0
#include "image/similarity.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "base/error.h"
#include "image/image.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

TEST(Similarity, OfAPictureWithItselfIsOne) {
  const Image picture = sample(70, 50);
  EXPECT_NEAR(structuralSimilarity(picture, picture), 1, 1e-12);
}

TEST(Similarity, OfEvenPicturesIsTheirLuminances) {
  // Without any variance the paper's formula leaves (2ab + c) / (a^2 + b^2 + c).
  const double a = 0.3;
  const double b = 0.6;
  const double c = 1e-4;
  EXPECT_NEAR(structuralSimilarity(Image(30, 20, 3, 0.3F), Image(30, 20, 3, 0.6F)),
              (2 * a * b + c) / (a * a + b * b + c), 1e-6);
}

TEST(Similarity, FallsWithWhatIsDoneToThePicture) {
  const Image picture = sample(90, 80);
  const auto with = [&](float strength) {
    Image other = picture;
    unsigned state = 7;
    for (float& v : other.pixels) {
      state = state * 1664525U + 1013904223U;
      v += strength * (static_cast<float>(state >> 16U) / 65536.0F - 0.5F);
    }
    return structuralSimilarity(picture, other);
  };
  const double little = with(0.05F);
  const double much = with(0.5F);
  EXPECT_GT(little, 0.8);
  EXPECT_LT(much, 0.5 * little);
  Image negative = picture;
  for (float& v : negative.pixels) v = 1 - v;
  EXPECT_LT(structuralSimilarity(picture, negative), 0);
}

TEST(Similarity, NeedsOneSize) { EXPECT_THROW(structuralSimilarity(Image(30, 20), Image(20, 30)), Error); }

}  // namespace
}  // namespace jugendstil
