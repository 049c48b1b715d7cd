// SPDX-License-Identifier: Apache-2.0
#include "paint/lines.h"

#include <gtest/gtest.h>

namespace jugendstil {
namespace {

// A twentieth of it dark blue.
PaintReference blueInked() {
  Image image(100, 20, 3, 0.8F);
  for (int y = 0; y < 20; ++y) {
    for (int x = 0; x < 5; ++x) {
      image.at(x, y, 0) = 0.05F;
      image.at(x, y, 1) = 0.1F;
      image.at(x, y, 2) = 0.3F;
    }
  }
  return {image, 1};
}

TEST(Lines, InkIsTheReferencesDarkestColour) {
  const auto ink = inkFor({blueInked(), {Image(40, 40, 3, 0.9F), 1}}, Palette::reference);
  EXPECT_NEAR(ink[0], 0.05F, 1e-4F);
  EXPECT_NEAR(ink[2], 0.3F, 1e-4F);
  for (const float v : inkFor({blueInked()}, Palette::photo)) EXPECT_LT(v, 0.1F);
  for (const float v : inkFor({}, Palette::reference)) EXPECT_LT(v, 0.1F);
}

TEST(Lines, AreAsStrongAsAsked) {
  Image lines(2, 1, 1);
  lines.at(1, 0, 0) = 1;
  const Image out = withLines(Image(2, 1, 3, 0.6F), lines, 0.5, {0, 0, 0});
  EXPECT_EQ(out.at(0, 0, 1), 0.6F);
  EXPECT_NEAR(out.at(1, 0, 1), 0.3F, 1e-5F);
}

TEST(Lines, DrawnOnesStandInPlaceOfThePhotosAndStayInsideTheMask) {
  Image photo(64, 64, 3, 0.2F);
  for (int y = 0; y < 64; ++y) {
    for (int x = 32; x < 64; ++x) {
      for (int c = 0; c < 3; ++c) photo.at(x, y, c) = 0.8F;
    }
  }
  const auto strongest = [](const Image& lines, int top) {
    float most = 0;
    for (int y = top; y < top + 20; ++y) {
      for (int x = 4; x < 60; ++x) most = std::max(most, lines.at(x, y, 0));
    }
    return most;
  };
  Image upper(32, 32, 1);
  for (int y = 0; y < 16; ++y) std::fill_n(&upper.at(0, y, 0), 32, 1.0F);
  const Image own = linesOver(photo, {}, upper);
  EXPECT_GT(strongest(own, 6), 0.7F);
  EXPECT_EQ(strongest(own, 40), 0);
  const Image drawn = linesOver(photo, Image(8, 8, 1, 0.25F), {});
  EXPECT_NEAR(strongest(drawn, 6), 0.25F, 1e-4F);
}

TEST(Lines, EachRegionHasItsInk) {
  std::vector<Region> regions(2);
  regions[0].basis.references = {blueInked()};
  regions[1].basis.references = {{Image(40, 40, 3, 0.5F), 1}};
  regions[0].weights = Image(4, 2, 1);
  regions[1].weights = Image(4, 2, 1);
  for (int y = 0; y < 2; ++y) {
    for (int x = 0; x < 4; ++x) regions[x / 2].weights.at(x, y, 0) = 1;
  }
  const Image out = withLines(Image(4, 2, 3, 0.9F), Image(4, 2, 1, 1.0F), 1, regions, Palette::reference);
  EXPECT_NEAR(out.at(0, 0, 2), 0.3F, 1e-3F);
  EXPECT_NEAR(out.at(3, 0, 2), 0.5F, 1e-3F);
}

}  // namespace
}  // namespace jugendstil
