// SPDX-License-Identifier: Apache-2.0
#include "report/sheet.h"

#include <gtest/gtest.h>

#include "support/support.h"

namespace jugendstil {
namespace {

TEST(Sheet, HoldsEveryPictureAndItsCaption) {
  SheetOptions options;
  options.columns = 2;
  options.cellWidth = 100;
  options.cellHeight = 80;
  const Image red = [] {
    Image image(200, 100);
    for (std::size_t i = 0; i < image.area(); ++i) image.pixels[i * 3] = 1;
    return image;
  }();
  const Image bare = contactSheet({{red, "", ""}, {red, "", ""}, {red, "", ""}}, options);
  const Image captioned = contactSheet({{red, "words", "more"}, {red, "", ""}, {red, "", ""}}, options);
  EXPECT_EQ(bare.width, captioned.width);
  std::size_t reds = 0;
  for (std::size_t i = 0; i < bare.area(); ++i)
    reds += bare.pixels[i * 3] > 0.99F && bare.pixels[i * 3 + 1] < 0.01F ? 1 : 0;
  EXPECT_EQ(reds, 3U * 100 * 50);
  EXPECT_NE(bare.pixels, captioned.pixels);
}

TEST(Sheet, SmallPicturesAreNotEnlarged) {
  SheetOptions options;
  options.columns = 1;
  Image dot(3, 3, 3, 0.0F);
  const Image sheet = contactSheet({{dot, "", ""}}, options);
  std::size_t black = 0;
  for (std::size_t i = 0; i < sheet.area(); ++i) black += sheet.pixels[i * 3] < 0.01F ? 1 : 0;
  EXPECT_EQ(black, 9U);
}

// Rows of the first cell's column, below its picture, that hold writing.
int writtenRows(const Image& sheet, int x, int width, int y) {
  int rows = 0;
  for (; y < sheet.height; ++y) {
    bool written = false;
    for (int u = x; u < x + width; ++u) written = written || sheet.at(u, y, 0) < 0.6F;
    rows += written ? 1 : 0;
  }
  return rows;
}

TEST(Sheet, LongCaptionsTakeMoreLinesAndStayInTheirCell) {
  SheetOptions options;
  options.columns = 2;
  options.cellWidth = 150;
  options.cellHeight = 40;
  const Image dot(3, 3);
  const std::string longer = "the palm house after the evening, measure neighbours";
  const Image brief = contactSheet({{dot, "palm house", "a.png"}, {dot, "", ""}}, options);
  const Image sheet = contactSheet(
      {{dot, longer, "palm_house-after-evening-measure-neighbours.png"}, {dot, "", ""}}, options);
  EXPECT_GT(sheet.height, brief.height + 30);
  EXPECT_GT(writtenRows(sheet, 24, 150, 70), writtenRows(brief, 24, 150, 70) + 20);
  EXPECT_EQ(writtenRows(sheet, 24 + 150, sheet.width - 24 - 150, 70), 0);
}

}  // namespace
}  // namespace jugendstil
