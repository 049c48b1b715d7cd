// SPDX-License-Identifier: Apache-2.0
#include "image/mask.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "image/picture_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

// Left half dark blue, right half light orange.
Image twoHalves() {
  Image photo(80, 40);
  for (int y = 0; y < 40; ++y) {
    for (int x = 0; x < 80; ++x) {
      const bool left = x < 40;
      photo.at(x, y, 0) = left ? 0.1F : 0.9F;
      photo.at(x, y, 1) = left ? 0.15F : 0.6F;
      photo.at(x, y, 2) = left ? 0.4F : 0.2F;
    }
  }
  return photo;
}

Image square(int size, int from, int to) {
  Image mask(size, size, 1);
  for (int y = from; y < to; ++y) {
    for (int x = from; x < to; ++x) mask.at(x, y, 0) = 1;
  }
  return mask;
}

TEST(Mask, TonesAndColoursChooseTheirPixels) {
  const Image dark = maskOfTones(twoHalves(), 0, 40, 5);
  EXPECT_EQ(dark.at(10, 20, 0), 1.0F);
  EXPECT_EQ(dark.at(70, 20, 0), 0.0F);
  const Image orange = maskOfColour(twoHalves(), {0.85F, 0.55F, 0.2F}, 8);
  EXPECT_EQ(orange.at(10, 20, 0), 0.0F);
  EXPECT_EQ(orange.at(70, 20, 0), 1.0F);
}

TEST(Mask, TonesEndSoftly) {
  Image ramp(256, 1);
  for (int x = 0; x < 256; ++x) {
    for (int c = 0; c < 3; ++c) ramp.at(x, 0, c) = static_cast<float>(x) / 255.0F;
  }
  const Image mask = maskOfTones(ramp, 0, 50, 10);
  int soft = 0;
  for (int x = 0; x + 1 < 256; ++x) {
    EXPECT_GE(mask.at(x, 0, 0), mask.at(x + 1, 0, 0));
    soft += mask.at(x, 0, 0) > 0.01F && mask.at(x, 0, 0) < 0.99F ? 1 : 0;
  }
  EXPECT_GT(soft, 15);
  EXPECT_EQ(mask.at(255, 0, 0), 0.0F);
}

TEST(Mask, ABoxFindsTheThingInIt) {
  // A disk before a ground of another colour, both with texture.
  Image photo = sample(320, 240, 3);
  for (int y = 0; y < 240; ++y) {
    for (int x = 0; x < 320; ++x) {
      const bool inside = std::hypot(x - 150, y - 120) < 60;
      photo.at(x, y, 0) = (inside ? 0.7F : 0.1F) + 0.2F * photo.at(x, y, 0);
      photo.at(x, y, 1) = (inside ? 0.2F : 0.4F) + 0.2F * photo.at(x, y, 1);
      photo.at(x, y, 2) = (inside ? 0.1F : 0.3F) + 0.2F * photo.at(x, y, 2);
    }
  }
  const Image mask = maskInBox(photo, {70, 40, 160, 160});
  EXPECT_NEAR(coverage(mask) * 320 * 240, 3.14159 * 60 * 60, 0.05 * 3.14159 * 60 * 60);
  EXPECT_GT(mask.at(150, 120, 0), 0.99F);
  EXPECT_LT(mask.at(80, 50, 0), 0.01F);
  EXPECT_EQ(mask.pixels, maskInBox(photo, {70, 40, 160, 160}).pixels);
  EXPECT_THROW(maskInBox(photo, {200, 100, 200, 50}), Error);
  EXPECT_THROW(maskInBox(photo, {0, 0, 320, 240}), Error);
  EXPECT_THROW(maskInBox(photo, {10, 10, 0, 50}), Error);
}

TEST(Mask, ADrawingCountsWhereItIsPaintedWhateverItsColour) {
  const Image mask = maskOfDrawing(
      "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 200 100'>"
      "<rect x='20' y='20' width='40' height='40' fill='black'/>"
      "<line x1='100' y1='50' x2='180' y2='50' stroke='#f00' stroke-width='20' stroke-opacity='0.5'/></svg>",
      400, 200);
  EXPECT_EQ(mask.at(80, 80, 0), 1.0F);
  EXPECT_NEAR(mask.at(280, 100, 0), 0.5F, 0.01F);
  EXPECT_NEAR(mask.at(280, 84, 0), 0.5F, 0.01F);
  EXPECT_EQ(mask.at(280, 60, 0), 0.0F);
}

TEST(Mask, APhotoThatADrawingWasTracedOverDoesNotCount) {
  const std::string placed =
      "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 200 100'>"
      "<image width='200' height='100' preserveAspectRatio='none' href='data:image/png;base64,"
      "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR42mNgYGAAAAAEAAHI6uv5AAAAAElFTkSuQmCC'/>";
  const Image mask =
      maskOfDrawing(placed + "<rect x='20' y='20' width='40' height='40' fill='black'/></svg>", 400, 200);
  EXPECT_EQ(mask.at(80, 80, 0), 1.0F);
  EXPECT_NEAR(coverage(mask), 0.08, 0.001);
  EXPECT_THROW(maskOfDrawing(placed + "</svg>", 400, 200), Error);
}

TEST(Mask, ADrawingThatCannotServeIsRefused) {
  EXPECT_THROW(maskOfDrawing("no svg at all", 100, 100), Error);
  EXPECT_THROW(maskOfDrawing("", 100, 100), Error);
  EXPECT_THROW(maskOfDrawing("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 100 100'/>", 100, 100),
               Error);
  // Another format than the picture's.
  EXPECT_THROW(maskOfDrawing("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 100 100'><rect width='9' "
                             "height='9'/></svg>",
                             200, 100),
               Error);
}

TEST(Mask, SeveralGoTogether) {
  const Image a = square(40, 5, 25);
  const Image b = square(40, 15, 35);
  EXPECT_NEAR(coverage(bothOf(a, b)) * 1600, 100, 1e-3);
  EXPECT_NEAR(coverage(eitherOf(a, b)) * 1600, 700, 1e-3);
  EXPECT_NEAR(coverage(withoutOf(a, b)) * 1600, 300, 1e-3);
  EXPECT_NEAR(coverage(inverted(a)) * 1600, 1200, 1e-3);
  EXPECT_THROW(bothOf(a, Image(10, 40, 1)), Error);
}

TEST(Mask, GrowsAndShrinksAllRoundAndKeepsSoftEdges) {
  const Image mask = square(200, 80, 120);
  const Image larger = grown(mask, 20);
  for (const auto& [x, y] : {std::pair{61, 100}, {138, 100}, {100, 61}, {100, 138}})
    EXPECT_EQ(larger.at(x, y, 0), 1.0F) << x << "," << y;
  EXPECT_EQ(larger.at(58, 100, 0), 0.0F);
  // Rounder than a square: the corner is cut.
  EXPECT_EQ(larger.at(62, 62, 0), 0.0F);
  EXPECT_NEAR(coverage(grown(mask, -10)) * 40000, 400, 1);
  const Image soft = feathered(mask, 8);
  EXPECT_NEAR(grown(soft, 5).at(70, 100, 0), soft.at(75, 100, 0), 1e-6F);
  EXPECT_EQ(grown(mask, 0).pixels, mask.pixels);
}

TEST(Mask, FeatheringSoftensTheEdgeAndKeepsTheAmount) {
  const Image mask = square(200, 60, 140);
  const Image soft = feathered(mask, 10);
  EXPECT_NEAR(soft.at(100, 60, 0), 0.5F, 0.06F);
  EXPECT_GT(soft.at(100, 52, 0), 0.02F);
  EXPECT_LT(soft.at(100, 45, 0), 0.02F);
  EXPECT_NEAR(coverage(soft), coverage(mask), 1e-3);
}

TEST(Mask, IsReadFromGreyColouredTransparentPicturesAndDrawings) {
  const testing_support::TemporaryFolder folder;
  const Image grey = square(30, 10, 20);
  writePicture(folder / "grey.png", grey, Depth::eight);
  EXPECT_EQ(readMask(folder / "grey.png", 0, 0).pixels, grey.pixels);
  Image rgba(30, 30, 4, 1.0F);
  for (std::size_t i = 0; i < rgba.area(); ++i) rgba.pixels[i * 4 + 3] = grey.pixels[i];
  writePicture(folder / "clear.png", rgba, Depth::eight);
  EXPECT_EQ(readMask(folder / "clear.png", 0, 0).pixels, grey.pixels);
  EXPECT_EQ(maskOfAlpha(rgba).pixels, grey.pixels);
  EXPECT_THROW(maskOfAlpha(rgbOf(rgba)), Error);
  testing_support::writeContent(folder / "bad.svg", "<svg");
  try {
    readMask(folder / "bad.svg", 30, 30);
    FAIL();
  } catch (const Error& e) {
    EXPECT_NE(std::string(e.what()).find("bad.svg"), std::string::npos);
  }
}

TEST(Mask, TheCheckPictureVeilsWhatDoesNotCount) {
  const Image view = maskOver(twoHalves(), maskOfTones(twoHalves(), 0, 40, 5));
  EXPECT_NEAR(view.at(10, 20, 2), 0.4F, 1e-5F);
  EXPECT_LT(std::fabs(view.at(70, 20, 0) - view.at(70, 20, 2)), 0.25F);
  EXPECT_THROW(maskOver(twoHalves(), Image(5, 5, 1)), Error);
}

}  // namespace
}  // namespace jugendstil
