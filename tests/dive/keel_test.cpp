// SPDX-License-Identifier: Apache-2.0
#include "dive/keel.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "image/luma.h"
#include "image/resample.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

Image lighter(Image picture, float by, float contrast) {
  for (float& v : picture.pixels) v = std::clamp(0.5F + contrast * (v - 0.5F) + by, 0.0F, 1.0F);
  return picture;
}

double gradientEnergy(const Image& p) {
  double sum = 0;
  for (int y = 0; y < p.height; ++y) {
    for (int x = 1; x < p.width; ++x)
      sum += std::pow(lumaOf(p.row(y) + 3 * x) - lumaOf(p.row(y) + 3 * (x - 1)), 2);
  }
  return sum;
}

TEST(DiveKeel, LeavesAPictureThatIsOnItAsItIs) {
  const Image picture = sample(96, 80);
  const Image out = onKeel(picture, keelOf(picture));
  std::size_t moved = 0;
  for (std::size_t i = 0; i < out.pixels.size(); ++i) {
    const float by = std::abs(out.pixels[i] - picture.pixels[i]);
    if (by > 0.5F / 255) ++moved;
    ASSERT_LT(by, 8.0F / 255);
  }
  // The most vivid hundredth is a little less so.
  EXPECT_LT(moved, out.pixels.size() / 60);
}

TEST(DiveKeel, BringsLightnessAndColourBack) {
  const Image picture = sample(96, 80);
  const Keel wanted = keelOf(picture);
  const Keel is = keelOf(onKeel(lighter(picture, 0.08F, 0.9F), wanted));
  EXPECT_NEAR(is.lightness, wanted.lightness, 0.004);
  EXPECT_NEAR(is.chroma / wanted.chroma, 1, 0.05);
}

TEST(DiveKeel, NoSpotsOfColourComeUp) {
  const Image picture = sample(96, 80);
  const Keel wanted = keelOf(picture);
  Image out = picture;
  for (int y = 20; y < 30; ++y) {
    for (int x = 20; x < 30; ++x) {
      out.at(x, y, 0) = 1;
      out.at(x, y, 1) = 0;
    }
  }
  ASSERT_GT(keelOf(out).vivid, 1.5 * wanted.vivid);
  for (int i = 0; i < 6; ++i) out = onKeel(out, wanted);
  EXPECT_LT(keelOf(out).vivid, 1.1 * wanted.vivid);
}

TEST(DiveKeel, DetailThatRunsAwayIsHeldInAFewFrames) {
  const Image picture = sample(96, 80);
  const Keel wanted = keelOf(picture);
  Image out = lighter(picture, 0, 1.8F);
  ASSERT_GT(keelOf(out).detail[1], 2 * wanted.detail[1]);
  for (int i = 0; i < 6; ++i) out = onKeel(out, wanted);
  for (std::size_t i = 0; i < wanted.detail.size(); ++i)
    EXPECT_LT(keelOf(out).detail[i], 1.1 * wanted.detail[i]) << i;
}

TEST(DiveKeel, WhatIsSeenIsMadeAsSharpAsItShouldBe) {
  Image picture = sample(96, 80);
  for (std::size_t i = 0; i < picture.area(); ++i) {
    const float luma = lumaOf(picture.pixel(i));
    std::fill_n(picture.pixel(i), 3, luma);
  }
  Image soft = resample(resample(picture, 48, 40), 96, 80);
  for (std::size_t i = 0; i < soft.pixels.size(); ++i)
    soft.pixels[i] = 0.8F * picture.pixels[i] + 0.2F * soft.pixels[i];
  const double wanted = gradientEnergy(picture);
  const double is = gradientEnergy(soft);
  ASSERT_LT(is, 0.85 * wanted);
  const Keel sharp = keelOf(picture);
  const Image again = lifted(soft, liftOf(soft, sharp));
  EXPECT_NEAR(gradientEnergy(again) / wanted, 1, 0.06);
  const Keel dull = keelOf(soft);
  EXPECT_NEAR(gradientEnergy(lifted(picture, liftOf(picture, dull))) / is, 1, 0.06);
}

TEST(DiveKeel, WhatIsSeenIsAsColouredAsItShouldBe) {
  const Image picture = sample(96, 80);
  Image pale = picture;
  for (std::size_t i = 0; i < pale.area(); ++i) {
    const float luma = lumaOf(pale.pixel(i));
    for (int c = 0; c < 3; ++c) pale.pixel(i)[c] = luma + 0.85F * (pale.pixel(i)[c] - luma);
  }
  const Keel wanted = keelOf(picture);
  ASSERT_LT(keelOf(pale).chroma, 0.9 * wanted.chroma);
  EXPECT_NEAR(keelOf(lifted(pale, liftOf(pale, wanted))).chroma / wanted.chroma, 1, 0.03);
}

TEST(DiveKeel, StrengthsAddUpInSquares) {
  Keel none;
  Keel full;
  full.lightness = 0.4;
  full.detail[2] = 0.04;
  EXPECT_DOUBLE_EQ(betweenStrengths(none, full, 0.5).lightness, 0.2);
  EXPECT_DOUBLE_EQ(betweenStrengths(none, full, 0.5).detail[2], 0.01);
  EXPECT_DOUBLE_EQ(between(none, full, 0.5).detail[2], 0.02);
}

}  // namespace
}  // namespace jugendstil
