// SPDX-License-Identifier: Apache-2.0
#include "image/stored_picture.h"

#include <OpenImageIO/imageio.h>
#include <gtest/gtest.h>
#include <lcms2.h>

#include <algorithm>
#include <cmath>
#include <tuple>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::sample;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

void copyOver(const fs::path& from, const fs::path& to, ProfileChoice profile = ProfileChoice::keep,
              int rows = 7) {
  const StoredPicture picture = StoredPicture::read(from);
  StripWriter writer(to, picture, profile);
  for (int y = 0; y < picture.height(); y += rows) {
    writer.write(picture.rows(y, std::min(rows, picture.height() - y)));
  }
  writer.finish();
}

// A wide-gamut profile made on the spot.
std::string wideProfile() {
  const cmsCIExyY white{0.3127, 0.3290, 1};
  const cmsCIExyYTRIPLE primaries{{0.68, 0.32, 1}, {0.265, 0.69, 1}, {0.15, 0.06, 1}};
  cmsToneCurve* gamma = cmsBuildGamma(nullptr, 2.2);
  cmsToneCurve* curves[] = {gamma, gamma, gamma};
  cmsHPROFILE profile = cmsCreateRGBProfile(&white, &primaries, curves);
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile, nullptr, &size);
  std::string bytes(size, '\0');
  cmsSaveProfileToMem(profile, bytes.data(), &size);
  cmsCloseProfile(profile);
  cmsFreeToneCurve(gamma);
  bytes.replace(24, 12, 12, '\0');  // the time of making, which changes while a test runs
  return bytes;
}

// EXIF as a camera writes it, with a maker's note and an orientation.
std::string cameraExif() {
  std::string exif("II*\0\x08\0\0\0", 8);
  exif += std::string("\x02\0", 2);
  exif += std::string("\x12\x01\x03\0\x01\0\0\0\x06\0\0\0", 12);        // orientation 6
  exif += std::string("\x7c\x92\x07\0\x04\0\0\0\xDE\xAD\xBE\xEF", 12);  // maker's note
  exif += std::string("\0\0\0\0", 4);
  return exif;
}

TEST(StoredPicture, RowsAreThoseOfTheWholePicture) {
  const TemporaryFolder folder;
  const Image image = sample(31, 23);
  for (const char* name : {"a.png", "a.tif", "a.exr"}) {
    writePicture(folder / name, image, Depth::sixteen);
    const StoredPicture stored = StoredPicture::read(folder / name);
    const Image whole = stored.rows(0, 23);
    const Image part = stored.rows(11, 5);
    const Image read = readPicture(folder / name).image;
    for (std::size_t i = 0; i < whole.pixels.size(); ++i)
      EXPECT_NEAR(whole.pixels[i], read.pixels[i], 1e-5F) << name;
    for (std::size_t i = 0; i < part.pixels.size(); ++i)
      EXPECT_EQ(part.pixels[i], whole.pixels[i + 11 * 31 * 3]);
  }
}

TEST(StoredPicture, ACopyHasTheSamePixelsDepthAndAlpha) {
  const TemporaryFolder folder;
  const std::pair<const char*, Depth> cases[] = {{"a.png", Depth::eight},
                                                 {"b.png", Depth::sixteen},
                                                 {"a.tif", Depth::sixteen},
                                                 {"a.exr", Depth::floating}};
  for (const auto& [name, depth] : cases) {
    writePicture(folder / name, sample(20, 33, 3, 4), depth);
    const fs::path copy = folder / (std::string("copy-") + name);
    copyOver(folder / name, copy);
    const Picture before = readPicture(folder / name);
    const Picture after = readPicture(copy);
    EXPECT_EQ(after.depth, before.depth) << name;
    ASSERT_EQ(after.image.channels, 4);
    for (std::size_t i = 0; i < after.image.pixels.size(); ++i) {
      // Dithering leaves whole code values as they are.
      EXPECT_NEAR(after.image.pixels[i], before.image.pixels[i], depth == Depth::floating ? 1e-3F : 1e-6F)
          << name;
    }
  }
}

TEST(StoredPicture, ExifAndXmpAndProfileArriveByteForByte) {
  const TemporaryFolder folder;
  const MetadataBlocks blocks{cameraExif(), "<x:xmpmeta xmlns:x='adobe:ns:meta/'><made-up/></x:xmpmeta>",
                              wideProfile()};
  for (const char* name : {"a.jpg", "a.png"}) {
    writePicture(folder / name, sample(24, 16), Depth::eight);
    putMetadataBlocks(folder / name, blocks);
    for (const char* target : {"copy.jpg", "copy.png"}) {
      copyOver(folder / name, folder / target);
      const MetadataBlocks found = metadataBlocksOf(contentOf(folder / target));
      EXPECT_EQ(found.exif, blocks.exif) << name << " to " << target;
      EXPECT_EQ(found.xmp, blocks.xmp) << name << " to " << target;
      EXPECT_EQ(found.icc, blocks.icc) << name << " to " << target;
      fs::remove(folder / target);
    }
    EXPECT_EQ(StoredPicture::read(folder / name).orientation(), 6);
  }
}

TEST(StoredPicture, ALongProfileIsSplitAndJoined) {
  const TemporaryFolder folder;
  writePicture(folder / "a.jpg", sample(24, 16), Depth::eight);
  const std::string icc = wideProfile() + std::string(150000, 'x');
  putMetadataBlocks(folder / "a.jpg", {"", "", icc});
  EXPECT_EQ(metadataBlocksOf(contentOf(folder / "a.jpg")).icc, icc);
}

TEST(StoredPicture, AProfileThatDoesNotGoIntoAFormatIsLeftOutAndSaid) {
  const TemporaryFolder folder;
  const std::string odd = wideProfile() + "more than it says";
  const std::string broken = wideProfile().substr(0, 20) + std::string(300, 'x');
  for (const auto& [icc, target, left] : {std::tuple{wideProfile(), "out.png", false},
                                          {odd, "out.png", true},
                                          {odd, "out.jpg", false},
                                          {broken, "out.jpg", true}}) {
    writePicture(folder / "a.jpg", sample(24, 16), Depth::eight);
    putMetadataBlocks(folder / "a.jpg", {"", "", icc});
    const StoredPicture picture = StoredPicture::read(folder / "a.jpg");
    StripWriter writer(folder / target, picture, ProfileChoice::keep);
    EXPECT_EQ(writer.profileLeftOut(), left) << target;
    const Image rows = picture.rows(0, 16);
    writer.write(rows);
    writer.finish();
    // It looks the same all the same.
    const StoredPicture written = StoredPicture::read(folder / target);
    EXPECT_EQ(written.icc(), left ? srgbProfile() : icc) << target;
    EXPECT_LT(testing_support::distance(written.rows(0, 16), left ? clipped(rows) : rows), 1e-3) << target;
  }
}

// Whoever writes it holds a lock on it, which a file put in its place would not have.
TEST(StoredPicture, BlocksArePutIntoTheFileItself) {
  const TemporaryFolder folder;
  for (const char* name : {"a.png", "a.jpg"}) {
    writePicture(folder / name, sample(1400, 900), Depth::sixteen);
    putMetadataBlocks(folder / name, {"", "short", ""});
    const std::string before = contentOf(folder / name);
    ASSERT_GT(before.size(), std::size_t{1} << 20) << "more than one part";
    const std::filesystem::path link = folder / "link";
    std::filesystem::create_hard_link(folder / name, link);
    putMetadataBlocks(folder / name, {"", std::string(9000, 'x'), ""});
    const std::string longer = contentOf(folder / name);
    EXPECT_EQ(longer.size(), before.size() + 8995) << name;
    EXPECT_EQ(contentOf(link), longer) << name;
    EXPECT_EQ(longer.substr(longer.size() - 1000000), before.substr(before.size() - 1000000)) << name;
    putMetadataBlocks(folder / name, {"", "short", ""});
    EXPECT_EQ(contentOf(link), before) << name;
    std::filesystem::remove(link);
  }
}

TEST(StoredPicture, ExifTooLongForAJpegIsSaid) {
  const TemporaryFolder folder;
  writePicture(folder / "a.jpg", sample(24, 16), Depth::eight);
  const std::string before = contentOf(folder / "a.jpg");
  EXPECT_THROW(putMetadataBlocks(folder / "a.jpg", {std::string(70000, 'x'), "", ""}), Error);
  EXPECT_EQ(contentOf(folder / "a.jpg"), before);
}

TEST(StoredPicture, WideProfileIsWorkedInSrgbAndKept) {
  const TemporaryFolder folder;
  writePicture(folder / "a.png", sample(24, 16), Depth::sixteen);
  putMetadataBlocks(folder / "a.png", {"", "", wideProfile()});
  const StoredPicture stored = StoredPicture::read(folder / "a.png");
  const Image rows = stored.rows(0, 16);
  Image plain = sample(24, 16);
  double moved = 0;
  for (std::size_t i = 0; i < rows.pixels.size(); ++i) {
    moved = std::max(moved, static_cast<double>(std::fabs(rows.pixels[i] - plain.pixels[i])));
  }
  EXPECT_GT(moved, 0.02);  // it was converted
  copyOver(folder / "a.png", folder / "kept.png");
  copyOver(folder / "a.png", folder / "srgb.png", ProfileChoice::srgb);
  const StoredPicture kept = StoredPicture::read(folder / "kept.png");
  EXPECT_EQ(kept.icc(), wideProfile());
  EXPECT_EQ(StoredPicture::read(folder / "srgb.png").icc(), srgbProfile());
  const Image again = kept.rows(0, 16);
  const Image converted = StoredPicture::read(folder / "srgb.png").rows(0, 16);
  for (std::size_t i = 0; i < rows.pixels.size(); ++i) {
    EXPECT_NEAR(again.pixels[i], rows.pixels[i], 5e-4F);
    const float inside = std::clamp(rows.pixels[i], 0.0F, 1.0F);
    EXPECT_NEAR(converted.pixels[i], inside, 5e-4F);
  }
}

TEST(StoredPicture, DitheringKeepsTheMeanBetweenCodeValues) {
  const TemporaryFolder folder;
  const StoredPicture grey = StoredPicture::of(Image(200, 200, 3, 100.3F / 255));
  StripWriter writer(folder / "a.png", StoredPicture::like(200, 200, Depth::eight), ProfileChoice::keep);
  writer.write(grey.rows(0, 200));
  writer.finish();
  const Image read = readPicture(folder / "a.png").image;
  double sum = 0;
  int high = 0;
  for (const float v : read.pixels) {
    const double code = std::round(static_cast<double>(v) * 255);
    EXPECT_TRUE(code == 100 || code == 101);
    sum += code;
    high += code == 101 ? 1 : 0;
  }
  EXPECT_NEAR(sum / static_cast<double>(read.pixels.size()), 100.3, 0.01);
  EXPECT_GT(high, 1000);
}

TEST(StoredPicture, UnfinishedAndFailedFilesDoNotAppear) {
  const TemporaryFolder folder;
  {
    StripWriter writer(folder / "a.png", StoredPicture::like(20, 20, Depth::eight), ProfileChoice::keep);
    writer.write(sample(20, 10));
  }
  EXPECT_TRUE(testing_support::filesIn(folder.path).empty());
  EXPECT_THROW(StripWriter(folder / "a.gif", StoredPicture::like(20, 20, Depth::eight), ProfileChoice::keep),
               UsageError);
  EXPECT_THROW(
      StripWriter(folder / "no" / "a.png", StoredPicture::like(20, 20, Depth::eight), ProfileChoice::keep),
      Error);
}

TEST(StoredPicture, NotANumberIsNamedByPlace) {
  const TemporaryFolder folder;
  Image image = sample(9, 8);
  const auto out = OIIO::ImageOutput::create((folder / "a.exr").string());
  OIIO::ImageSpec spec(9, 8, 3, OIIO::TypeDesc::FLOAT);
  image.at(4, 5, 1) = std::nanf("");
  ASSERT_TRUE(out->open((folder / "a.exr").string(), spec));
  ASSERT_TRUE(out->write_image(OIIO::TypeDesc::FLOAT, image.pixels.data()));
  ASSERT_TRUE(out->close());
  try {
    StoredPicture::read(folder / "a.exr");
    FAIL();
  } catch (const Error& e) {
    EXPECT_NE(std::string(e.what()).find("4,5"), std::string::npos) << e.what();
  }
}

}  // namespace
}  // namespace jugendstil
