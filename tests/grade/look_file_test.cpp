// SPDX-License-Identifier: Apache-2.0
#include "grade/look_file.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "grade/lut_file.h"
#include "image/picture_file.h"
#include "support/full_disk.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::TemporaryFolder;
using testing_support::writeContent;
using Rgb = std::array<float, 3>;

Look some() {
  Look look;
  look.name = "a \"quoted\" name";
  look.exposure = 0.35;
  look.curve = {{0.0F, 0.0F}, {0.25F, 0.31F}, {0.7F, 0.72F}, {1.0F, 1.0F}};
  look.black = 0.03;
  look.white = 0.97;
  look.saturation = 0.82;
  look.cast = {{{0.001, -0.02}, {0.01, 0.012}, {0.02, 0.03}}};
  look.detail = {1.2, 1.1, 0.9};
  look.residual = tabulated(9, [](const Rgb& c) {
    return Rgb{0.05F * std::sin(5 * c[0]) * c[1], -0.03F * c[2], 0.04F * c[1] * c[1]};
  });
  return look;
}

void expectSameMap(const Look& a, const Look& b, float tolerance) {
  const ColourTable first = lookTable(a);
  const ColourTable second = lookTable(b);
  for (float r = 0; r <= 1; r += 0.09F) {
    for (float g = 0; g <= 1; g += 0.11F) {
      for (float blue = 0; blue <= 1; blue += 0.13F) {
        const Rgb one = interpolated(first, {r, g, blue});
        const Rgb two = interpolated(second, {r, g, blue});
        for (std::size_t c = 0; c < 3; ++c)
          ASSERT_NEAR(one[c], two[c], tolerance) << r << " " << g << " " << blue;
      }
    }
  }
}

std::string complaint(const std::string& text) {
  return testing_support::complaint([&] { parseLook(text, "a.look.toml"); });
}

std::string changed(const std::string& from, const std::string& to) {
  std::string text = lookText(some());
  const auto at = text.find(from);
  EXPECT_NE(at, std::string::npos) << from;
  return text.replace(at, from.size(), to);
}

TEST(LookFile, ComesBackWithinAThousandth) {
  const Look look = some();
  const Look back = parseLook(lookText(look), "a.look.toml");
  EXPECT_EQ(back.name, look.name);
  EXPECT_EQ(back.exposure, look.exposure);
  EXPECT_EQ(back.detail, look.detail);
  EXPECT_EQ(back.cast, look.cast);
  EXPECT_EQ(lookText(back), lookText(look));
  for (std::size_t i = 0; i < look.residual.rgb.size(); ++i) {
    EXPECT_NEAR(back.residual.rgb[i], look.residual.rgb[i], 1e-4F);
  }
}

TEST(LookFile, EveryFaultIsNamedWithItsPlace) {
  EXPECT_NE(
      complaint(changed("saturation = 0.82 ", "saturatoin = 0.82 ")).find("did you mean \"saturation\"?"),
      std::string::npos);
  EXPECT_NE(complaint(changed("exposure   = 0.35 ", "exposure   = 9 ")).find("from -8 to 8, not 9"),
            std::string::npos);
  EXPECT_NE(complaint(changed("exposure   = 0.35 ", "exposure   = \"0.35\" ")).find("is a number"),
            std::string::npos);
  EXPECT_NE(complaint(changed("exposure   = 0.35 ", "")).find("\"exposure\" is missing in [tone]"),
            std::string::npos);
  EXPECT_NE(complaint(changed("[detail]", "[detial]")).find("did you mean \"detail\"?"), std::string::npos);
  EXPECT_NE(complaint(changed("look = 1", "look = 7")).find("format 1"), std::string::npos);
  EXPECT_NE(complaint(changed("look = 1", "")).find("\"look\" is missing"), std::string::npos);
  EXPECT_NE(complaint(changed("[0.25, 0.31]", "[0.25, 0.99]")).find("ascend"), std::string::npos);
  EXPECT_NE(complaint(changed("[0.25, 0.31]", "[0.25]")).find("a pair"), std::string::npos);
  EXPECT_NE(complaint(changed("shadows    = [", "shadows    = [0.5, ")).find("a pair of numbers"),
            std::string::npos);
  Look inverted = some();
  inverted.black = 0.6;
  inverted.white = 0.5;
  EXPECT_NE(complaint(lookText(inverted)).find("above \"black\""), std::string::npos);
  EXPECT_NE(complaint(changed("size = 9", "size = 8")).find("holds 1536 numbers"), std::string::npos);
  EXPECT_NE(complaint(changed("white      = 0.97", "white      = 0.9.7")).find("line"), std::string::npos);
  const std::string text = lookText(some());
  EXPECT_NE(complaint(text.substr(0, text.size() / 2)).find("line"), std::string::npos);
}

TEST(LookFile, TwiceAStrongLookCanStillBeRead) {
  Look strong = some();
  strong.exposure = 6;
  strong.saturation = 3;
  strong.detail = {3, 3, 3};
  strong.cast[0] = {0.3, -0.3};
  for (float& v : strong.residual.rgb) v *= 16;
  const Look twice = partOfLook(strong, {2, 2, 2});
  EXPECT_EQ(lookText(parseLook(lookText(twice), "a.look.toml")), lookText(twice));
}

TEST(LookFile, NumbersAreSetByName) {
  Look look = some();
  setLookNumber(look, "tone.exposure", "-1.5");
  EXPECT_EQ(look.exposure, -1.5);
  setLookNumber(look, "colour.lights", "0.01,-0.02");
  EXPECT_EQ(look.cast[2][1], -0.02);
  setLookNumber(look, "detail.broad", "1.3");
  EXPECT_EQ(look.detail[2], 1.3);
  setLookNumber(look, "color.saturation", "0.4");
  EXPECT_EQ(look.saturation, 0.4);
  EXPECT_THROW(setLookNumber(look, "tone.exposure", "a lot"), UsageError);
  EXPECT_THROW(setLookNumber(look, "colour.lights", "0.01"), UsageError);
  EXPECT_THROW(setLookNumber(look, "tone.black", "0.98"), UsageError);
  try {
    setLookNumber(look, "colour.saturatoin", "1");
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_NE(std::string(e.what()).find("did you mean \"colour.saturation\"?"), std::string::npos)
        << e.what();
  }
}

class LutRoundTrip : public testing::TestWithParam<std::tuple<const char*, int>> {};

TEST_P(LutRoundTrip, ComesBackWithinAThousandth) {
  const auto [name, size] = GetParam();
  const TemporaryFolder folder;
  Look look = some();
  writeLut(folder / name, look, size);
  const Look back = readLut(folder / name);
  EXPECT_EQ(back.residual.size, std::string(name) == "a.png" ? (size == 33 ? 36 : 64) : size);
  // Its points are the map itself; at a Hald picture's other points it is interpolated once more.
  look.detail = {1, 1, 1};
  if (std::string(name) == "a.png") {
    const ColourTable table = lookTable(look);
    const float last = static_cast<float>(back.residual.size - 1);
    for (int i = 0; i < back.residual.size; i += 5) {
      const Rgb c{static_cast<float>(i) / last, static_cast<float>(back.residual.size - 1 - i) / last,
                  1 / last};
      const Rgb wanted = interpolated(table, c);
      const Rgb rest = interpolated(back.residual, c);
      for (std::size_t k = 0; k < 3; ++k) EXPECT_NEAR(c[k] + rest[k], wanted[k], 1e-3F);
    }
  } else {
    expectSameMap(look, back, 1e-3F);
  }
}
INSTANTIATE_TEST_SUITE_P(Formats, LutRoundTrip,
                         testing::Combine(testing::Values("a.cube", "a.clf", "a.png"),
                                          testing::Values(33, 65)));

TEST(LutFile, FaultyFilesAreRefused) {
  const TemporaryFolder folder;
  EXPECT_THROW(readLut(folder / "none.cube"), Error);
  writeContent(folder / "a.cube", "LUT_3D_SIZE 3\n0 0 0\n1 1 1\n");
  EXPECT_THROW(readLut(folder / "a.cube"), Error);
  writeContent(folder / "a.clf", "<?xml version=\"1.0\"?><ProcessList><LUT3D>");
  EXPECT_THROW(readLut(folder / "a.clf"), Error);
  writePicture(folder / "a.png", Image(100, 100, 3, 0.5F), Depth::eight);
  EXPECT_THROW(readLut(folder / "a.png"), Error);
  EXPECT_THROW(writeLut(folder / "a.lut", {}, 33), UsageError);
  EXPECT_THROW(writeLut(folder / "no" / "a.cube", {}, 33), Error);
}

// Written by hand in the format's plain form: red and blue change places.
TEST(LutFile, AForeignCubeIsReadAsItIsMeant) {
  const TemporaryFolder folder;
  std::string text = "TITLE \"swap\"\nLUT_3D_SIZE 2\n";
  for (int i = 0; i < 8; ++i)
    text += std::to_string(i >> 2) + " " + std::to_string(i >> 1 & 1) + " " + std::to_string(i & 1) + "\n";
  writeContent(folder / "swap.cube", text);
  const Look look = readLut(folder / "swap.cube");
  const Rgb out = lookColour(look, {0.9F, 0.5F, 0.1F});
  EXPECT_NEAR(out[0], 0.1F, 1e-3F);
  EXPECT_NEAR(out[1], 0.5F, 1e-3F);
  EXPECT_NEAR(out[2], 0.9F, 1e-3F);
}

TEST(LutFile, AFullDiskIsToldAtEveryPlace) {
  // All of the text is written by one call, which is tried at every 4 KiB elsewhere; making it takes long.
  for (const char* name : {"a.cube", "a.clf"}) {
    testing_support::expectFullDiskIsTold(
        name, [](const auto& file) { writeLut(file, Look{}, 33); }, 200000);
  }
  testing_support::expectFullDiskIsTold("a.png", [](const auto& file) { writeLut(file, Look{}, 33); });
}

TEST(LutFile, EveryNameThatTheSystemTakesWorks) {
  const testing_support::TemporaryFolder folder;
  for (const char* name : {"$HOME %d.cube", "what?.clf", "\xFF.cube", "a?b.png"}) {
    writeLut(folder / name, Look{}, 33);
    EXPECT_NO_THROW(readLut(folder / name)) << name;
  }
}

}  // namespace
}  // namespace jugendstil
