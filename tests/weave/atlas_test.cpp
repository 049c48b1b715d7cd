// SPDX-License-Identifier: Apache-2.0
#include "weave/atlas.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "weave/cloth.h"
#include "weave/window.h"

namespace jugendstil {
namespace {

using testing_support::cloth;

TEST(Atlas, CountsTheSpotsOfAllSwatchesAndKnowsThemAgain) {
  const Atlas atlas = atlasOf({{cloth(40, 30), {}, {}}, {cloth(24, 50, 2), {}, {}}}, kGrownTone);
  ASSERT_EQ(atlas.parts.size(), 2U);
  for (int swatch = 0; swatch < 2; ++swatch) {
    const Atlas::Part& part = atlas.parts[swatch];
    const Atlas::Pixel pixel = atlas.pixel(atlas.spot(part.left + 5, part.top + 7));
    EXPECT_EQ(pixel.swatch, swatch);
    EXPECT_EQ(pixel.x, 5);
    EXPECT_EQ(pixel.y, 7);
  }
  std::size_t open = 0;
  for (const std::uint8_t o : atlas.open) open += o;
  EXPECT_EQ(open, 40U * 30 + 24U * 50);
}

TEST(Atlas, FeaturesVaryByOneWhateverTheContrast) {
  Image faint = cloth(60, 60);
  for (float& v : faint.pixels) v = 0.5F + 0.1F * (v - 0.5F);
  for (const Image& swatch : {cloth(60, 60), faint}) {
    const Atlas atlas = atlasOf({{swatch, {}, {}}}, kGrownTone);
    double sum = 0;
    double squares = 0;
    for (int y = 0; y < 60; ++y) {
      for (int x = 0; x < 60; ++x) {
        const float v = atlas.features[atlas.spot(x + kWindow, y + kWindow) * kFeatures];
        sum += v / 3600;
        squares += v * v / 3600;
      }
    }
    EXPECT_GT(squares - sum * sum, 0.5);
    EXPECT_LE(squares - sum * sum, 1.0);
  }
}

TEST(Atlas, WhatIsClosedIsNotWovenFrom) {
  Image closed(40, 40, 1);
  closed.at(3, 4, 0) = 1;
  const Atlas atlas = atlasOf({{cloth(40, 40), {}, closed}}, kGrownTone);
  EXPECT_EQ(atlas.open[atlas.spot(3 + kWindow, 4 + kWindow)], 0);
  EXPECT_EQ(atlas.open[atlas.spot(4 + kWindow, 4 + kWindow)], 1);
  EXPECT_THROW(atlasOf({{cloth(40, 40), {}, Image(40, 40, 1, 1.0F)}}, kGrownTone), Error);
}

// A swatch that holds a picture twice: each place is most alike to the same one of the other half.
TEST(Atlas, AlikeAreTheSamePlacesElsewhere) {
  const Image half = cloth(30, 30);
  Image twice(60, 30);
  for (int y = 0; y < 30; ++y) {
    for (int x = 0; x < 60; ++x) {
      for (int c = 0; c < 3; ++c) twice.at(x, y, c) = half.at(x % 30, y, c);
    }
  }
  const Atlas atlas = testing_support::atlasOf(twice);
  const std::vector<Spot> alike = alikeOf(atlas);
  int found = 0;
  int all = 0;
  for (int y = 8; y < 22; ++y) {
    for (int x = 8; x < 20; ++x, ++all) {
      const Spot self = atlas.spot(x + kWindow, y + kWindow);
      found += alike[std::size_t{self} * kAlike] == self + 30 ? 1 : 0;
      for (std::size_t k = 0; k < kAlike; ++k) EXPECT_NE(alike[std::size_t{self} * kAlike + k], self);
    }
  }
  EXPECT_GT(found, 0.9 * all);
}

TEST(Atlas, SpotsOfFinerLevelsStayInTheSwatch) {
  const Atlas coarse = testing_support::atlasOf(cloth(21, 21));
  const Atlas fine = testing_support::atlasOf(cloth(41, 41));
  const Spot last = coarse.spot(kWindow + 20, kWindow + 20);
  const Atlas::Pixel pixel = fine.pixel(finerSpot(fine, coarse, last, 1, 0));
  EXPECT_EQ(pixel.x, 40);
  EXPECT_EQ(pixel.y, 40);
}

TEST(Window, DistancesAreSumsOfSquares) {
  const Atlas atlas = testing_support::atlasOf(cloth(40, 40));
  const Spot a = atlas.spot(12, 13);
  const Spot b = atlas.spot(25, 20);
  const std::size_t step = std::size_t{kFeatures} * atlas.width;
  std::vector<float> window(kWindowValues);
  std::vector<float> weights(kWindowValues);
  double plain = 0;
  double weighed = 0;
  for (std::size_t r = 0; r < kWindowSide; ++r) {
    for (std::size_t i = 0; i < kWindowRow; ++i) {
      const std::size_t at = r * kWindowRow + i;
      window[at] = windowAt(atlas, a)[r * step + i];
      weights[at] = 0.1F * static_cast<float>(at % 7);
      const double d = window[at] - windowAt(atlas, b)[r * step + i];
      plain += d * d;
      weighed += weights[at] * d * d;
    }
  }
  EXPECT_NEAR(windowDistance(windowAt(atlas, a), step, windowAt(atlas, b), step), plain, 1e-4 * plain);
  const auto upTo = [&](double most) {
    return weighedWindowDistance(window.data(), weights.data(), windowAt(atlas, b), step,
                                 static_cast<float>(most));
  };
  EXPECT_NEAR(upTo(1e9), weighed, 1e-4 * weighed);
  EXPECT_GT(upTo(0.01 * weighed), 0.01 * weighed);
}

}  // namespace
}  // namespace jugendstil
