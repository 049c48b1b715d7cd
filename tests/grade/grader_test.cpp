// SPDX-License-Identifier: Apache-2.0
#include "grade/grader.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "base/stop.h"
#include "grade/grade_file.h"
#include "image/colour.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;
using testing_support::TemporaryFolder;

Look some() {
  Look look;
  look.exposure = 0.3;
  look.saturation = 0.7;
  look.black = 0.05;
  look.detail = {1.4, 1.2, 0.8};
  return look;
}

TEST(Grader, StripsOfAnyHeightGiveTheWholePicture) {
  const Image photo = sample(70, 53);
  const Grader grader(some(), photo);
  Image whole = photo;
  grader.apply(whole, 0, 53);
  for (const int rows : {1, 7, 50}) {
    for (int y = 0; y < 53; y += rows) {
      Image strip = crop(photo, 0, y, 70, std::min(rows, 53 - y));
      grader.apply(strip, y, 53);
      for (std::size_t i = 0; i < strip.pixels.size(); ++i) {
        ASSERT_EQ(strip.pixels[i], whole.pixels[i + static_cast<std::size_t>(y) * 70 * 3]);
      }
    }
  }
}

TEST(Grader, AlphaIsLeftAlone) {
  Image photo = sample(40, 30, 2, 4);
  const Image before = photo;
  Grader(some(), rgbOf(photo)).apply(photo, 0, 30);
  for (std::size_t i = 0; i < photo.area(); ++i) EXPECT_EQ(photo.pixels[i * 4 + 3], before.pixels[i * 4 + 3]);
}

TEST(GradeFile, TheOrientationOfThePhotoHoldsForItsMask) {
  const TemporaryFolder folder;
  // Stored lying, seen standing: EXIF orientation 6.
  writePicture(folder / "a.jpg", Image(40, 20, 3, 0.5F), Depth::eight);
  std::string exif("II*\0\x08\0\0\0\x01\0\x12\x01\x03\0\x01\0\0\0\x06\0\0\0\0\0\0\0", 26);
  putMetadataBlocks(folder / "a.jpg", {exif, "", ""});
  GradeInputs inputs;
  inputs.rest.look = Look();
  inputs.rest.look->exposure = 1;
  inputs.mask = Image(20, 40, 1);
  for (int y = 0; y < 20; ++y) {
    for (int x = 0; x < 20; ++x) inputs.mask->at(x, y, 0) = 1;  // the upper half as seen
  }
  const GradeOutcome outcome = gradeFile(folder / "a.jpg", folder / "b.jpg", inputs);
  EXPECT_EQ(outcome.width, 20);
  EXPECT_EQ(outcome.height, 40);
  const Image seen = readPicture(folder / "b.jpg").image;
  ASSERT_EQ(seen.width, 20);
  EXPECT_GT(seen.at(10, 5, 0), 0.6F);
  EXPECT_NEAR(seen.at(10, 35, 0), 0.5F, 0.02F);
}

TEST(GradeFile, APhotoOnItsSideIsSeenUprightInEveryFormat) {
  const TemporaryFolder folder;
  Image lying(40, 20, 3, 0.2F);
  for (int y = 0; y < 20; ++y) {
    for (int x = 0; x < 20; ++x) lying.at(x, y, 0) = 0.9F;  // the left half becomes the upper one
  }
  writePicture(folder / "a.jpg", lying, Depth::eight);
  std::string exif("II*\0\x08\0\0\0\x01\0\x12\x01\x03\0\x01\0\0\0\x06\0\0\0\0\0\0\0", 26);
  putMetadataBlocks(folder / "a.jpg", {exif, "", ""});
  GradeInputs inputs;
  inputs.rest.look = Look();
  for (const char* name : {"b.jpg", "b.png", "b.tif", "b.webp", "b.exr"}) {
    gradeFile(folder / "a.jpg", folder / name, inputs);
    const Image seen = readPicture(folder / name).image;
    ASSERT_EQ(seen.width, 20) << name;
    EXPECT_GT(seen.at(10, 8, 0), 0.8F) << name;
    EXPECT_LT(seen.at(10, 32, 0), 0.3F) << name;
  }
}

TEST(GradeFile, StoppingWritesNothing) {
  const TemporaryFolder folder;
  writePicture(folder / "a.png", sample(30, 300), Depth::eight);
  GradeInputs inputs;
  inputs.rest.look = some();
  EXPECT_THROW(gradeFile(folder / "a.png", folder / "b.png", inputs, [](int, int) { throw Stopped{}; }),
               Stopped);
  EXPECT_EQ(testing_support::filesIn(folder.path), std::vector<std::string>{"a.png"});
}

TEST(GradeFile, SixteenBitsKeepTheirFineSteps) {
  const TemporaryFolder folder;
  Image ramp(1000, 4);
  for (int y = 0; y < 4; ++y) {
    for (int x = 0; x < 1000; ++x) {
      for (int c = 0; c < 3; ++c) ramp.at(x, y, c) = 0.5F + 0.05F * static_cast<float>(x) / 1000;
    }
  }
  writePicture(folder / "a.tif", ramp, Depth::sixteen);
  GradeInputs inputs;
  inputs.rest.look = Look();
  inputs.rest.look->exposure = 0.2;
  gradeFile(folder / "a.tif", folder / "b.tif", inputs);
  const Picture out = readPicture(folder / "b.tif");
  EXPECT_EQ(out.depth, Depth::sixteen);
  int different = 0;
  for (int x = 1; x < 1000; ++x) {
    EXPECT_GE(out.image.at(x, 0, 0), out.image.at(x - 1, 0, 0));
    different += out.image.at(x, 0, 0) > out.image.at(x - 1, 0, 0) ? 1 : 0;
  }
  EXPECT_GT(different, 900);
}

}  // namespace
}  // namespace jugendstil
