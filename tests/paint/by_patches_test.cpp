// SPDX-License-Identifier: Apache-2.0
#include "paint/by_patches.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "image/luma.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

PaintInputs inputs() {
  PaintInputs in;
  in.photo = sample(96, 64, 1);
  in.references = {{sample(80, 70, 2), 1}};
  return in;
}

Image painted(const PaintInputs& in, const PaintSettings& settings) {
  return paintByPatches(in, settings, [](double) {});
}

TEST(ByPatches, HasTheSizeThatPaintWouldHave) {
  PaintSettings settings;
  EXPECT_EQ(sizeByPatches(inputs(), settings).width, 96);
  settings.longEdge = 48;
  const Image picture = painted(inputs(), settings);
  EXPECT_EQ(picture.width, 48);
  EXPECT_EQ(picture.height, 32);
  settings.longEdge = 20;
  EXPECT_THROW(painted(inputs(), settings), Error);
}

TEST(ByPatches, LiesOnlyInsideAMask) {
  PaintInputs in = inputs();
  in.inside = Image(96, 64, 1);
  for (int y = 10; y < 40; ++y) {
    for (int x = 0; x < 30; ++x) in.inside.at(x, y, 0) = 1;
  }
  const Image picture = painted(in, {});
  EXPECT_EQ(picture.at(60, 50, 1), in.photo.at(60, 50, 1));
  EXPECT_EQ(picture.at(60, 20, 1), in.photo.at(60, 20, 1));
  EXPECT_NE(crop(picture, 5, 12, 20, 20).pixels, crop(in.photo, 5, 12, 20, 20).pixels);
}

TEST(ByPatches, PartsComeOfTheirOwnReferences) {
  PaintInputs in = inputs();
  in.references = {{Image(64, 64, 3, 0.1F), 1}};
  in.references.front().image.at(2, 2, 1) = 0.2F;
  PaintPart part{Image(96, 64, 1), {{Image(64, 64, 3, 0.9F), 1}}};
  part.references.front().image.at(2, 2, 1) = 0.8F;
  for (int y = 0; y < 64; ++y) {
    for (int x = 0; x < 40; ++x) part.mask.at(x, y, 0) = 1;
  }
  in.parts = {part};
  const Image picture = painted(in, {});
  EXPECT_NEAR(picture.at(20, 30, 0), 0.9, 0.02);
  EXPECT_NEAR(picture.at(70, 30, 0), 0.1, 0.02);
}

TEST(ByPatches, PaletteAndOpacityAreThoseOfPaint) {
  PaintSettings settings;
  settings.opacity = 0;
  EXPECT_EQ(painted(inputs(), settings).pixels, inputs().photo.pixels);
  settings.opacity = 1;
  settings.palette = Palette::photoLightness;
  const Image picture = painted(inputs(), settings);
  const Image photo = inputs().photo;
  double off = 0;
  for (std::size_t i = 0; i < photo.area(); ++i)
    off += std::abs(lumaOf(picture.pixel(i)) - lumaOf(photo.pixel(i)));
  EXPECT_LT(off / static_cast<double>(photo.area()), 0.03);
}

}  // namespace
}  // namespace jugendstil
