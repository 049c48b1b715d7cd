// SPDX-License-Identifier: Apache-2.0
#include "image/resample.h"

#include <gtest/gtest.h>

#include <numeric>

#include "base/error.h"
#include "image/colour.h"
#include "support/support.h"

namespace jugendstil {
namespace {

TEST(Resample, AreaAveragesExactlyWhatEachSampleCovers) {
  Image image(3, 1, 1);
  image.pixels = {0.0F, 0.6F, 0.9F};
  const Image half = resample(image, 2, 1);
  EXPECT_NEAR(half.pixels[0], (0.0F + 0.5F * 0.6F) / 1.5F, 1e-6F);
  EXPECT_NEAR(half.pixels[1], (0.5F * 0.6F + 0.9F) / 1.5F, 1e-6F);
}

TEST(Resample, AreaKeepsTheMeanAtAnyRatio) {
  const Image image = testing_support::sample(61, 47);
  const Image small = resample(image, 17, 13);
  for (std::size_t c = 0; c < 3; ++c) {
    double before = 0;
    double after = 0;
    for (std::size_t i = c; i < image.pixels.size(); i += 3) before += image.pixels[i];
    for (std::size_t i = c; i < small.pixels.size(); i += 3) after += small.pixels[i];
    EXPECT_NEAR(before / (61.0 * 47.0), after / (17.0 * 13.0), 1e-5);
  }
}

TEST(Resample, CubicReproducesALinearRampInside) {
  Image ramp(16, 1, 1);
  for (int x = 0; x < 16; ++x) ramp.at(x, 0, 0) = static_cast<float>(x);
  const Image large = resample(ramp, 40, 1);
  for (int x = 8; x < 32; ++x)
    EXPECT_NEAR(large.at(x, 0, 0), (static_cast<float>(x) + 0.5F) * 16 / 40 - 0.5F, 1e-4F);
}

TEST(Resample, SameSizeIsUntouched) {
  const Image image = testing_support::sample(20, 10);
  EXPECT_EQ(resample(image, 20, 10).pixels, image.pixels);
  EXPECT_EQ(resizePhoto(image, 20, 10).pixels, image.pixels);
}

TEST(Resample, PhotosAreReducedInLinearLight) {
  Image board(2, 1, 3);
  for (int c = 0; c < 3; ++c) board.at(1, 0, c) = 1.0F;
  EXPECT_NEAR(resizePhoto(board, 1, 1).at(0, 0, 0), linearToSrgb(0.5F), 1e-5F);
}

TEST(Resample, TransparentPixelsGiveNoColour) {
  Image image(2, 1, 4);
  image.pixels = {1, 0, 0, 1, 0, 1, 0, 0};
  const Image one = resizePhoto(image, 1, 1);
  EXPECT_NEAR(one.at(0, 0, 0), 1.0F, 1e-5F);
  EXPECT_NEAR(one.at(0, 0, 1), 0.0F, 1e-5F);
}

TEST(Resample, CubicNeverLeavesTheRangeOfAPhoto) {
  Image edge(8, 1, 3);
  for (int x = 4; x < 8; ++x) {
    for (int c = 0; c < 3; ++c) edge.at(x, 0, c) = 1.0F;
  }
  for (const float v : resizePhoto(edge, 33, 1).pixels) {
    EXPECT_GE(v, 0.0F);
    EXPECT_LE(v, 1.0F + 1e-6F);
  }
}

TEST(Resample, RefusesNothing) { EXPECT_THROW(resample(Image(4, 4), 0, 3), Error); }

TEST(BoxReduced, IsTheMeanOfItsPixels) {
  Image picture(5, 4, 3);
  for (std::size_t i = 0; i < picture.pixels.size(); ++i) picture.pixels[i] = static_cast<float>(i);
  const Image half = boxReduced(picture, 2);
  EXPECT_EQ(half.width, 2);
  EXPECT_EQ(half.height, 2);
  EXPECT_FLOAT_EQ(half.at(1, 1, 2), (picture.at(2, 2, 2) + picture.at(3, 3, 2)) / 2);
}

TEST(SizeForLongEdge, KeepsTheAspectOfEveryFormat) {
  EXPECT_EQ(sizeForLongEdge(4000, 3000, 1024).height, 768);
  EXPECT_EQ(sizeForLongEdge(3000, 4000, 1024).width, 768);
  EXPECT_EQ(sizeForLongEdge(10000, 3, 100).height, 1);
}

}  // namespace
}  // namespace jugendstil
