// SPDX-License-Identifier: Apache-2.0
#include "lay/lay.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/zip.h"
#include "image/colour.h"
#include "image/picture_file.h"
#include "support/full_disk.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::distance;
using testing_support::refusal;
using testing_support::sample;
using testing_support::writeContent;

constexpr int kWidth = 90;
constexpr int kHeight = 70;

class Laying : public testing::Test {
 protected:
  Laying() {
    writePicture(folder / "photo.png", photo, Depth::sixteen);
    writePicture(folder / "oil.png", oil, Depth::sixteen);
    // Left half white.
    writeContent(folder / "left.svg", svg("<rect width=\"45\" height=\"70\" fill=\"#fff\"/>"));
    writeContent(folder / "top.svg", svg("<rect width=\"90\" height=\"35\" fill=\"#fff\"/>"));
  }
  static std::string svg(const std::string& drawn) {
    return "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"90\" height=\"70\" viewBox=\"0 0 90 70\">" +
           drawn + "</svg>";
  }
  Image laid(const std::vector<LaidPainting>& paintings, const char* name = "out.png") const {
    layOver(folder / "photo.png", paintings, folder / name);
    return readPicture(folder / name).image;
  }
  LaidPainting painting(double opacity = 1, BlendMode blend = BlendMode::normal) const {
    return {folder / "oil.png", opacity, blend, {}};
  }
  // A pixel of the four quarters.
  static double farAt(const Image& a, const Image& b, int x, int y) {
    return std::abs(a.at(x, y, 0) - b.at(x, y, 0)) + std::abs(a.at(x, y, 1) - b.at(x, y, 1));
  }

  testing_support::TemporaryFolder folder;
  Image photo = sample(kWidth, kHeight, 1);
  Image oil = sample(kWidth, kHeight, 2);
};

TEST_F(Laying, WholeItIsThePainting) {
  EXPECT_LT(distance(laid({painting()}), oil), 1e-9);
  EXPECT_LT(distance(laid({painting(0)}), photo), 1e-9);
}

TEST_F(Laying, OpacityMixesInLinearLight) {
  const Image half = laid({painting(0.5)});
  for (std::size_t i = 0; i < half.pixels.size(); i += 97) {
    const float mean = (srgbToLinear(photo.pixels[i]) + srgbToLinear(oil.pixels[i])) / 2;
    EXPECT_NEAR(srgbToLinear(half.pixels[i]), mean, 1e-3);
  }
}

TEST_F(Laying, BlendModesAndSeveralInTheirOrder) {
  const Image out = laid({painting(1, BlendMode::multiply), painting(1, BlendMode::screen)});
  for (std::size_t i = 0; i < out.pixels.size(); i += 89) {
    const float first = photo.pixels[i] * oil.pixels[i];
    EXPECT_NEAR(out.pixels[i], first + oil.pixels[i] - first * oil.pixels[i], 1e-3);
  }
}

TEST_F(Laying, MasksAndStrokesSayWhereItShows) {
  LaidPainting one = painting();
  one.mask.file = folder / "left.svg";
  Image out = laid({one});
  EXPECT_LT(farAt(out, oil, 10, 10), 1e-3);
  EXPECT_LT(farAt(out, photo, 80, 10), 1e-3);
  // Away above, and back to the half of it.
  one.mask.strokes = {{folder / "top.svg", 1, true}, {folder / "top.svg", 0.5, false}};
  const auto mask = maskOf(one.mask, kWidth, kHeight);
  ASSERT_TRUE(mask);
  EXPECT_NEAR(mask->at(10, 10, 0), 0.5, 1e-3);
  EXPECT_NEAR(mask->at(10, 60, 0), 1, 1e-3);
  EXPECT_NEAR(mask->at(80, 10, 0), 0.5, 1e-3);  // brought back, where the mask is black, too
  EXPECT_NEAR(mask->at(80, 60, 0), 0, 1e-3);
  one.mask.strokes.clear();
  one.mask.feather = 10;
  EXPECT_NEAR(maskOf(one.mask, kWidth, kHeight)->at(45, 30, 0), 0.5, 0.1);
  EXPECT_FALSE(maskOf({}, kWidth, kHeight));
}

TEST_F(Laying, SmallerPaintingsAreEnlargedAndOthersRefused) {
  writePicture(folder / "oil.png", sample(45, 35, 2), Depth::eight);
  EXPECT_EQ(laid({painting()}).width, kWidth);
  writePicture(folder / "oil.png", sample(45, 45, 2), Depth::eight);
  EXPECT_NE(refusal([&] { laid({painting()}); }).find("another format"), std::string::npos);
}

TEST_F(Laying, TransparencyOfAPaintingIsAMaskAndThePhotosStays) {
  Image clear(kWidth, kHeight, 4);
  for (std::size_t i = 0; i < clear.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) clear.pixel(i)[c] = oil.pixel(i)[c];
    clear.pixel(i)[3] = i % kWidth < 45 ? 1 : 0;
  }
  writePicture(folder / "oil.png", clear, Depth::sixteen);
  const Image out = laid({painting()});
  EXPECT_LT(farAt(out, oil, 10, 10), 1e-3);
  EXPECT_LT(farAt(out, photo, 80, 10), 1e-3);
  writePicture(folder / "photo.png", clear, Depth::sixteen);
  writePicture(folder / "oil.png", oil, Depth::sixteen);
  const Image kept = laid({painting(0.4)});
  ASSERT_EQ(kept.channels, 4);
  EXPECT_EQ(kept.at(10, 10, 3), 1);
  EXPECT_EQ(kept.at(80, 10, 3), 0);
}

TEST_F(Laying, KeepsDepthAndTakesAnother) {
  laid({painting(0.5)});
  EXPECT_EQ(readPicture(folder / "out.png").depth, Depth::sixteen);
  Encoding encoding;
  encoding.depth = Depth::eight;
  layOver(folder / "photo.png", {painting()}, folder / "eight.png", encoding);
  EXPECT_EQ(readPicture(folder / "eight.png").depth, Depth::eight);
}

TEST_F(Laying, LayersStandBesideOneAnother) {
  LaidPainting one = painting(0.6, BlendMode::softLight);
  one.mask.file = folder / "left.svg";
  layOver(folder / "photo.png", {one}, folder / "out.ora");
  ZipReader zip(folder / "out.ora");
  std::string stack;
  Image merged;
  for (std::string name = zip.next(); !name.empty(); name = zip.next()) {
    if (name == "stack.xml") stack = zip.content(1 << 20);
    if (name == "mergedimage.png") merged = decodedPng(zip.content(1 << 20));
  }
  EXPECT_NE(stack.find("composite-op=\"svg:soft-light\" opacity=\"0.6\""), std::string::npos) << stack;
  EXPECT_NE(stack.find("name=\"oil\""), std::string::npos) << stack;
  EXPECT_LT(distance(merged, laid({one})), 1e-6);
}

TEST_F(Laying, AFullDiskIsTold) {
  testing_support::expectFullDiskIsTold(
      "out.png", [&](const fs::path& file) { layOver(folder / "photo.png", {painting(0.5)}, file); });
}

}  // namespace
}  // namespace jugendstil
