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

}  // namespace
}  // namespace jugendstil
