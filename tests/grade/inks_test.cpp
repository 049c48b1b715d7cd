// SPDX-License-Identifier: Apache-2.0
#include "grade/inks.h"

#include <gtest/gtest.h>

#include <array>
#include <cmath>
#include <random>

#include "image/colour.h"

namespace jugendstil {
namespace {

using Rgb = std::array<float, 3>;

constexpr Rgb kDark{0.1F, 0.1F, 0.15F};
constexpr Rgb kOrange{0.85F, 0.4F, 0.15F};
constexpr Rgb kPink{0.9F, 0.35F, 0.45F};

CieLab labOf(const float* p) {
  return cieLabOf(LinearRgb{srgbToLinear(p[0]), srgbToLinear(p[1]), srgbToLinear(p[2])});
}

float apart(const float* a, const float* b) { return std::sqrt(squaredDistance(labOf(a), labOf(b))); }

void put(Image& image, std::size_t pixel, const Rgb& colour) {
  std::copy(colour.begin(), colour.end(), image.pixel(pixel));
}

// Half dark, half orange, with so many pixels of pink among them.
Image print(std::size_t pink) {
  Image made(200, 100);
  for (std::size_t i = 0; i < made.area(); ++i) put(made, i, i < pink ? kPink : i % 2 == 0 ? kDark : kOrange);
  return made;
}

Image plain(const Rgb& colour) {
  Image made(24, 16);
  for (std::size_t i = 0; i < made.area(); ++i) put(made, i, colour);
  return made;
}

TEST(Inks, WhatThePrintHasStaysAsItIs) {
  const Image reference = print(0);
  const Inks inks({&reference});
  EXPECT_EQ(inks.count(), 2U);
  for (const Rgb& own : {kDark, kOrange, Rgb{0.84F, 0.41F, 0.16F}})
    EXPECT_EQ(inks.keptTo(plain(own)).pixels, plain(own).pixels);
}

TEST(Inks, WhatItHasNotGoesToTheNearest) {
  const Image reference = print(0);
  const Image kept = Inks({&reference}).keptTo(plain(kPink));
  EXPECT_GT(apart(kPink.data(), kOrange.data()), 30);
  EXPECT_NEAR(apart(kept.pixel(40), kOrange.data()), Inks::kFarthest, 1.8) << "an ink is a cell of 2";
}

TEST(Inks, AColourOfAFewPixelsIsNone) {
  const Image some = print(40);
  const Image few = print(2);
  EXPECT_EQ(Inks({&some}).keptTo(plain(kPink)).pixels, plain(kPink).pixels);
  EXPECT_NE(Inks({&few}).keptTo(plain(kPink)).pixels, plain(kPink).pixels);
}

TEST(Inks, PixelsBetweenTwoInksGoWithTheirNeighbours) {
  const Image reference = print(0);
  const Inks inks({&reference});
  // Half way in CIELAB between both, with a little noise to either side.
  const CieLab dark = labOf(kDark.data());
  const CieLab orange = labOf(kOrange.data());
  std::mt19937 random(3);
  std::normal_distribution<float> noise(0, 0.01F);
  Image between(64, 48);
  for (std::size_t i = 0; i < between.area(); ++i) {
    const float t = 0.5F + noise(random);
    const LinearRgb c = linearOf(CieLab{dark.lightness + t * (orange.lightness - dark.lightness),
                                        dark.a + t * (orange.a - dark.a), dark.b + t * (orange.b - dark.b)});
    put(between, i, {linearToSrgb(c.red), linearToSrgb(c.green), linearToSrgb(c.blue)});
  }
  const Image kept = inks.keptTo(between);
  int jumps = 0;
  for (int y = 0; y < kept.height; ++y) {
    for (int x = 0; x + 1 < kept.width; ++x)
      jumps += apart(kept.row(y) + 3 * x, kept.row(y) + 3 * (x + 1)) > 20 ? 1 : 0;
  }
  // Each for itself would be half of them.
  EXPECT_LT(jumps, kept.height * (kept.width - 1) / 5);
  for (std::size_t i = 0; i < kept.area(); ++i)
    EXPECT_LT(std::min(apart(kept.pixel(i), kDark.data()), apart(kept.pixel(i), kOrange.data())), 6.5F);
}

// A large picture is worked on in strips, whose seams must not be seen.
TEST(Inks, StripsAreAsOnePicture) {
  const Image reference = print(0);
  const Inks inks({&reference});
  std::mt19937 random(5);
  std::uniform_real_distribution<float> unit;
  Image tall(16, 300);
  for (float& v : tall.pixels) v = unit(random);
  // The same rows in the middle of a strip.
  Image middle(16, 40);
  std::copy_n(tall.row(236), middle.pixels.size(), middle.pixels.begin());
  const Image kept = inks.keptTo(tall);
  const Image alone = inks.keptTo(middle);
  for (int y = 10; y < 30; ++y) {
    for (int x = 0; x < 16; ++x) EXPECT_EQ(kept.at(x, 236 + y, 0), alone.at(x, y, 0)) << y;
  }
}

TEST(Inks, SeveralPicturesGiveTheirs) {
  const Image one = plain(kDark);
  const Image other = plain(kPink);
  EXPECT_EQ(Inks({&one, &other}).keptTo(plain(kPink)).pixels, plain(kPink).pixels);
}

}  // namespace
}  // namespace jugendstil
