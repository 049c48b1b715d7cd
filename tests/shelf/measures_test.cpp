// SPDX-License-Identifier: Apache-2.0
#include "shelf/measures.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numeric>

#include "image/resample.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;
using testing_support::strokes;

// Left red, right a blue three times as wide.
Image twoColours() {
  Image picture(80, 40, 3);
  for (int y = 0; y < 40; ++y) {
    for (int x = 0; x < 80; ++x) picture.at(x, y, x < 20 ? 0 : 2) = 0.8F;
  }
  return picture;
}

TEST(ShelfMeasures, PaletteHasTheColoursAndTheirShares) {
  const PictureMeasures m = measuresOf(twoColours());
  EXPECT_NEAR(m.palette[0].share, 0.75, 0.01);
  EXPECT_NEAR(m.palette[1].share, 0.25, 0.01);
  EXPECT_EQ(m.palette[2].share, 0);
  EXPECT_GT(m.palette[1].colour.a, 0.1F);   // red
  EXPECT_LT(m.palette[0].colour.b, -0.1F);  // blue
  EXPECT_NEAR(shareOf(m.palette[1].colour, m), 0.25, 0.01);
}

TEST(ShelfMeasures, SharesAddUp) {
  const PictureMeasures m = measuresOf(sample(300, 200));
  float palette = 0;
  float areas = 0;
  for (const PaletteColour& c : m.palette) palette += c.share;
  for (const AreaLook& a : m.areas) areas += a.share;
  EXPECT_NEAR(palette, 1, 1e-3);
  EXPECT_NEAR(areas, 1, 1e-3);
  for (int t = 1; t < kToneSteps; ++t) EXPECT_GE(m.tones[t], m.tones[t - 1]);
}

TEST(ShelfMeasures, DetailOfItsSizeStandsOut) {
  const PictureMeasures fine = measuresOf(strokes(128, 96, true));
  const Image wide = resample(strokes(32, 24, true), 128, 96);
  const PictureMeasures broad = measuresOf(wide);
  EXPECT_GT(fine.detail[0] / fine.detail[3], 2 * broad.detail[0] / broad.detail[3]);
}

TEST(ShelfMeasures, AreThoseOfTheSamePictureAtAnotherSize) {
  const Image picture = sample(512, 384);
  const PictureMeasures a = measuresOf(picture);
  const PictureMeasures b = measuresOf(resizePhoto(picture, 256, 192));
  EXPECT_LT(difference(a, b), 0.02);
  EXPECT_GT(difference(a, measuresOf(twoColours())), 0.2);
  EXPECT_EQ(difference(a, a), 0);
}

TEST(ShelfMeasures, ComeBackFromTheirBytes) {
  const PictureMeasures m = measuresOf(sample(60, 50));
  const auto back = measuresIn(measureBytes(m));
  ASSERT_TRUE(back);
  EXPECT_EQ(measureBytes(*back), measureBytes(m));
  EXPECT_FALSE(measuresIn(measureBytes(m).substr(1)));
}

}  // namespace
}  // namespace jugendstil
