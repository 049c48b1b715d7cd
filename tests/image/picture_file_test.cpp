// SPDX-License-Identifier: Apache-2.0
#include "image/picture_file.h"

#include <OpenImageIO/imageio.h>
#include <gtest/gtest.h>
#include <lcms2.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cmath>
#include <csignal>
#include <limits>
#include <thread>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/file.h"
#include "image/colour.h"
#include "image/icc.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::sample;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

// Writes with OpenImageIO alone, so that files do not come from the code under test.
void writeRaw(const fs::path& path, OIIO::ImageSpec spec, const std::vector<float>& pixels) {
  const auto out = OIIO::ImageOutput::create(path.string());
  ASSERT_TRUE(out) << path;
  ASSERT_TRUE(out->open(path.string(), spec)) << out->geterror();
  ASSERT_TRUE(out->write_image(OIIO::TypeDesc::FLOAT, pixels.data())) << out->geterror();
  ASSERT_TRUE(out->close());
}

std::string message(const fs::path& path) {
  try {
    readPicture(path);
  } catch (const Error& e) {
    return e.what();
  }
  return "no error";
}

struct FormatCase {
  const char* name;
  Depth depth;
  Depth stored;
  float tolerance;
};

class EveryFormat : public testing::TestWithParam<FormatCase> {};

TEST_P(EveryFormat, RoundTripKeepsPixelsAndDepth) {
  const TemporaryFolder folder;
  const Image image = sample(37, 23);
  const auto path = folder / GetParam().name;
  writePicture(path, image, GetParam().depth);
  const Picture back = readPicture(path);
  EXPECT_EQ(back.depth, GetParam().stored);
  ASSERT_EQ(back.image.width, 37);
  ASSERT_EQ(back.image.channels, 3);
  double worst = 0;
  for (std::size_t i = 0; i < image.pixels.size(); ++i)
    worst = std::max<double>(worst, std::fabs(back.image.pixels[i] - image.pixels[i]));
  EXPECT_LE(worst, GetParam().tolerance);
  EXPECT_EQ(testing_support::filesIn(folder.path).size(), 1U) << "a temporary file was left";
}

INSTANTIATE_TEST_SUITE_P(Formats, EveryFormat,
                         testing::Values(FormatCase{"a.png", Depth::eight, Depth::eight, 0.0021F},
                                         FormatCase{"a.png", Depth::sixteen, Depth::sixteen, 1e-5F},
                                         FormatCase{"a.tif", Depth::eight, Depth::eight, 0.0021F},
                                         FormatCase{"a.TIFF", Depth::sixteen, Depth::sixteen, 1e-5F},
                                         FormatCase{"a.exr", Depth::floating, Depth::floating, 1e-3F},
                                         FormatCase{"a.jpg", Depth::eight, Depth::eight, 0.09F},
                                         FormatCase{"a.webp", Depth::eight, Depth::eight, 0.25F}));

TEST(PictureFile, AlphaSurvivesUnassociated) {
  const TemporaryFolder folder;
  Image image(2, 1, 4);
  image.pixels = {1, 0.5F, 0, 0.25F, 0, 1, 0, 0};
  for (const char* name : {"a.png", "a.tif"}) {
    writePicture(folder / name, image, Depth::sixteen);
    const Image back = readPicture(folder / name).image;
    ASSERT_EQ(back.channels, 4) << name;
    EXPECT_NEAR(back.at(0, 0, 0), 1.0F, 2e-4F) << name;
    EXPECT_NEAR(back.at(0, 0, 3), 0.25F, 2e-5F) << name;
  }
}

TEST(PictureFile, WhatIsShortLivedIsCompressedLessAndHoldsTheSame) {
  const TemporaryFolder folder;
  const Image image = sample(200, 150);
  for (const Depth depth : {Depth::eight, Depth::sixteen}) {
    writePicture(folder / "kept.png", image, depth);
    writePicture(folder / "soon gone.png", image, depth, nullptr, {.quickly = true});
    EXPECT_EQ(readPicture(folder / "soon gone.png").image.pixels,
              readPicture(folder / "kept.png").image.pixels);
    EXPECT_NE(contentOf(folder / "soon gone.png"), contentOf(folder / "kept.png"));
    EXPECT_LT(fs::file_size(folder / "soon gone.png"), image.area() * 3 * (depth == Depth::eight ? 1 : 2));
  }
}

TEST(PictureFile, OrientationIsAppliedOnceAndNotCarriedOver) {
  const TemporaryFolder folder;
  OIIO::ImageSpec spec(3, 2, 3, OIIO::TypeDesc::UINT8);
  spec.attribute("Orientation", 6);  // to be turned clockwise
  std::vector<float> pixels(18, 0.0F);
  pixels[0] = 1;  // red at the upper left
  writeRaw(folder / "a.tif", spec, pixels);
  const Picture turned = readPicture(folder / "a.tif");
  ASSERT_EQ(turned.image.width, 2);
  ASSERT_EQ(turned.image.height, 3);
  EXPECT_EQ(turned.image.at(1, 0, 0), 1.0F);
  writePicture(folder / "b.tif", turned.image, Depth::eight, turned.metadata.get());
  EXPECT_EQ(readPicture(folder / "b.tif").image.width, 2);
}

TEST(PictureFile, MetadataIsCarriedOver) {
  const TemporaryFolder folder;
  OIIO::ImageSpec spec(8, 8, 3, OIIO::TypeDesc::UINT8);
  spec.attribute("Artist", "The workshop of the Palmarium");
  spec.attribute("Exif:FocalLength", 35.0F);
  writeRaw(folder / "a.jpg", spec, std::vector<float>(192, 0.5F));
  const Picture picture = readPicture(folder / "a.jpg");
  writePicture(folder / "b.tif", picture.image, Depth::eight, picture.metadata.get());
  const auto in = OIIO::ImageInput::open((folder / "b.tif").string());
  EXPECT_EQ(in->spec().get_string_attribute("Artist"), "The workshop of the Palmarium");
}

TEST(PictureFile, OutputSaysItIsSrgb) {
  const TemporaryFolder folder;
  writePicture(folder / "a.png", sample(8, 8), Depth::eight);
  EXPECT_NE(readPicture(folder / "a.png").profile.find("sRGB"), std::string::npos);
  EXPECT_EQ(srgbProfile(), srgbProfile());
}

TEST(PictureFile, ProfileIsConvertedToSrgb) {
  const TemporaryFolder folder;
  // A space with the primaries of sRGB and linear values: 0.5 must come out as the encoding of 0.5.
  cmsCIExyY white{0.3127, 0.3290, 1.0};
  cmsCIExyYTRIPLE primaries{{0.64, 0.33, 1}, {0.30, 0.60, 1}, {0.15, 0.06, 1}};
  cmsToneCurve* linear = cmsBuildGamma(nullptr, 1.0);
  cmsToneCurve* curves[] = {linear, linear, linear};
  cmsHPROFILE profile = cmsCreateRGBProfile(&white, &primaries, curves);
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile, nullptr, &size);
  std::vector<unsigned char> icc(size);
  cmsSaveProfileToMem(profile, icc.data(), &size);
  cmsCloseProfile(profile);
  cmsFreeToneCurve(linear);
  OIIO::ImageSpec spec(4, 4, 3, OIIO::TypeDesc::UINT16);
  spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, static_cast<int>(size)), icc.data());
  writeRaw(folder / "a.tif", spec, std::vector<float>(48, 0.5F));
  EXPECT_NEAR(readPicture(folder / "a.tif").image.at(1, 1, 1), linearToSrgb(0.5F), 2e-3F);
}

TEST(PictureFile, GreyOnePixelAndTwoChannelsBecomeColour) {
  const TemporaryFolder folder;
  writeRaw(folder / "grey.png", OIIO::ImageSpec(1, 1, 1, OIIO::TypeDesc::UINT8), {0.2F});
  const Image grey = readPicture(folder / "grey.png").image;
  EXPECT_EQ(grey.channels, 3);
  EXPECT_NEAR(grey.at(0, 0, 2), 0.2F, 1e-3F);
  OIIO::ImageSpec spec(2, 1, 2, OIIO::TypeDesc::UINT16);
  spec.alpha_channel = 1;
  writeRaw(folder / "ga.png", spec, {0.1F, 0.5F, 0.3F, 1.0F});
  EXPECT_EQ(readPicture(folder / "ga.png").image.channels, 4);
}

TEST(PictureFile, CmykIsReadAsColour) {
  const TemporaryFolder folder;
  OIIO::ImageSpec spec(16, 16, 4, OIIO::TypeDesc::UINT8);
  spec.attribute("tiff:ColorSpace", "CMYK");
  spec.channelnames = {"C", "M", "Y", "K"};
  spec.alpha_channel = -1;
  std::vector<float> pixels;
  for (int i = 0; i < 256; ++i) pixels.insert(pixels.end(), {0, 1, 1, 0});  // red
  writeRaw(folder / "a.tif", spec, pixels);
  const Image image = readPicture(folder / "a.tif").image;
  ASSERT_EQ(image.channels, 3);
  EXPECT_GT(image.at(3, 3, 0), 0.8F);
  EXPECT_LT(image.at(3, 3, 1), 0.35F);
}

TEST(PictureFile, WrongExtensionIsReadByItsContent) {
  const TemporaryFolder folder;
  writePicture(folder / "a.png", sample(8, 8), Depth::eight);
  fs::rename(folder / "a.png", folder / "a.jpg");
  EXPECT_EQ(readPicture(folder / "a.jpg").image.width, 8);
}

TEST(PictureFile, EachBadFileGetsItsOwnMessage) {
  const TemporaryFolder folder;
  EXPECT_NE(message(folder / "none.png").find("no such file"), std::string::npos);
  EXPECT_NE(message(folder.path).find("is a folder"), std::string::npos);
  writeContent(folder / "empty.png", "");
  EXPECT_NE(message(folder / "empty.png").find("empty"), std::string::npos);
  writeContent(folder / "text.png", "this is not a picture at all");
  EXPECT_NE(message(folder / "text.png").find("not a picture"), std::string::npos);
}

TEST(PictureFile, EveryTruncationIsAnError) {
  const TemporaryFolder folder;
  for (const char* name : {"a.png", "a.jpg", "a.tif", "a.webp", "a.exr"}) {
    writePicture(folder / name, sample(64, 64), Depth::eight);
    const std::string whole = contentOf(folder / name);
    for (const double part : {0.05, 0.5, 0.9}) {
      writeContent(folder / name,
                   whole.substr(0, static_cast<std::size_t>(static_cast<double>(whole.size()) * part)));
      const std::string text = message(folder / name);
      EXPECT_NE(text, "no error") << name << " cut to " << part;
      EXPECT_NE(text.find(name), std::string::npos) << text;
      EXPECT_EQ(text.find('\n'), std::string::npos) << text;
    }
  }
}

TEST(PictureFile, HugeDimensionsAreRefusedBeforeMemoryIsAsked) {
  const TemporaryFolder folder;
  writePicture(folder / "a.png", sample(8, 8), Depth::eight);
  std::string bytes = contentOf(folder / "a.png");
  bytes.replace(16, 8, std::string("\x00\x0F\x42\x40\x00\x0F\x42\x40", 8));  // 1,000,000 a side
  writeContent(folder / "a.png", bytes);
  EXPECT_NE(message(folder / "a.png"), "no error");
}

TEST(PictureFile, NotANumberIsNamedWithItsPlace) {
  const TemporaryFolder folder;
  std::vector<float> pixels(48, 0.5F);
  pixels[3 * 6 + 1] = std::numeric_limits<float>::quiet_NaN();
  writeRaw(folder / "a.exr", OIIO::ImageSpec(4, 4, 3, OIIO::TypeDesc::FLOAT), pixels);
  EXPECT_NE(message(folder / "a.exr").find("2,1"), std::string::npos) << message(folder / "a.exr");
}

TEST(PictureFile, WritingSaysWhatIsWrong) {
  const TemporaryFolder folder;
  EXPECT_THROW(writePicture(folder / "a.xyz", sample(8, 8), Depth::eight), UsageError);
  EXPECT_THROW(writePicture(folder / "missing" / "a.png", sample(8, 8), Depth::eight), Error);
  EXPECT_THROW(writePicture("/dev/full/a.png", sample(8, 8), Depth::eight), Error);
}

TEST(PictureFile, FullDiskLeavesNothingUnderTheFinalName) {
  const TemporaryFolder folder;
  // A limit on file size fails writes as a full disk does.
  const pid_t child = fork();
  if (child == 0) {
    signal(SIGXFSZ, SIG_IGN);
    rlimit limit{20000, 20000};
    setrlimit(RLIMIT_FSIZE, &limit);
    int code = 1;
    try {
      writePicture(folder / "big.png", sample(400, 400), Depth::sixteen);
    } catch (const Error&) {
      code = 0;
    }
    _exit(code);
  }
  int status = 0;
  waitpid(child, &status, 0);
  EXPECT_EQ(WEXITSTATUS(status), 0) << "no error was thrown";
  EXPECT_TRUE(testing_support::filesIn(folder.path).empty());
}

TEST(PictureFile, PngInMemoryComesBack) {
  for (const int channels : {3, 4}) {
    Image image(13, 7, channels);
    for (std::size_t i = 0; i < image.pixels.size(); ++i)
      image.pixels[i] = static_cast<float>(i * 7 % 256) / 255.0F;
    const Image back = decodedPng(encodedPng(image, Depth::eight));
    EXPECT_EQ(back.channels, channels);
    ASSERT_EQ(back.pixels.size(), image.pixels.size());
    for (std::size_t i = 0; i < back.pixels.size(); ++i) EXPECT_NEAR(back.pixels[i], image.pixels[i], 1e-6F);
  }
  const std::string whole = encodedPng(testing_support::sample(40, 30), Depth::eight);
  EXPECT_EQ(testing_support::refusal([&] { decodedPng("no picture"); }),
            "a picture inside the file is no PNG");
  EXPECT_NE(testing_support::refusal([&] {
              decodedPng(whole.substr(0, whole.size() / 2));
            }).find("a picture inside the file"),
            std::string::npos);
}

TEST(PictureFile, TheSamePictureIsTheSameFileLater) {
  const TemporaryFolder folder;
  const Image image = sample(20, 16);
  const char* const names[] = {"a.tif", "a.exr", "a.png", "a.jpg", "a.webp"};
  std::vector<std::string> before;
  for (const char* name : names) {
    writePicture(folder / name, image, Depth::eight);
    before.push_back(contentOf(folder / name));
  }
  std::this_thread::sleep_for(std::chrono::milliseconds(1100));  // files tell seconds
  for (std::size_t i = 0; i < std::size(names); ++i) {
    writePicture(folder / names[i], image, Depth::eight);
    EXPECT_TRUE(contentOf(folder / names[i]) == before[i]) << names[i];
  }
}

}  // namespace
}  // namespace jugendstil
