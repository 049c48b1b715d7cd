// SPDX-License-Identifier: Apache-2.0
// What is said of broken files: in our words, with the place, and what would be right.
#include <gtest/gtest.h>

#include <regex>

#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::writeContent;
using Words = std::vector<std::string>;

class Messages : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "photo.png", sample(90, 60), Depth::eight);
    writePicture(folder / "ref.png", sample(70, 60, 5), Depth::eight);
  }

  void expectError(const Words& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }
  // The first part of a picture in this format, read as a photo.
  std::string toldOfPart(const std::string& extension, double part) const {
    writePicture(folder / ("whole" + extension), sample(300, 400), Depth::sixteen);
    const std::string whole = contentOf(folder / ("whole" + extension));
    writeContent(folder / ("part" + extension),
                 whole.substr(0, static_cast<std::size_t>(part * static_cast<double>(whole.size()))));
    const RunResult r = testing_support::runProgram(
        {"grade", "part" + extension, "--after", "ref.png", "-o", "x.png"}, folder.path);
    EXPECT_EQ(r.code, 1);
    EXPECT_EQ(std::count(r.err.begin(), r.err.end(), '\n'), 1) << r.err;
    return r.err;
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(Messages, OfPicturesThatBreakOff) {
  // Whole in length, but not in its middle.
  writePicture(folder / "broken.exr", sample(300, 400), Depth::sixteen);
  std::string bytes = contentOf(folder / "broken.exr");
  std::fill_n(bytes.begin() + bytes.size() / 2, 2000, '\x55');
  writeContent(folder / "broken.exr", bytes);
  const RunResult r =
      testing_support::runProgram({"grade", "broken.exr", "--after", "ref.png", "-o", "x.png"}, folder.path);
  EXPECT_TRUE(std::regex_search(
      r.err, std::regex("broken.exr: is damaged or truncated from row [0-9]+ of 400 on; copy it again")))
      << r.err;
  for (const char* extension : {".png", ".jpg", ".tif", ".webp", ".exr"}) {
    const std::string told = toldOfPart(extension, 0.5);
    EXPECT_EQ(told.find("jugendstil: part"), 0U) << told;
    for (const char* theirs : {"libpng", "libtiff", "Imf", "scanline", "\""})
      EXPECT_EQ(told.substr(told.find(':', 12)).find(theirs), std::string::npos) << told;
  }
}

TEST_F(Messages, OfPicturesThatFitNoFormat) {
  writePicture(folder / "wide.png", Image(20000, 4, 3, 0.5F), Depth::eight);
  expectError(
      {"grade", "wide.png", "--after", "ref.png", "-o", "x.webp"}, 1,
      "cannot write x.webp: 20000x4 is too large for its format, which has room for 16383 pixels a side; "
      "name the result .png or .tif");
}

TEST_F(Messages, OfColourTables) {
  writeContent(folder / "words.cube", "LUT_3D_SIZE 2\n0 0 0\n1 zebra 0\n");
  writeContent(folder / "short.cube", "# made by hand\nLUT_3D_SIZE 2\n0 0 0\n1 0 0\n");
  writeContent(folder / "none.cube", "hello\n");
  writeContent(folder / "broken.clf",
               "<?xml version=\"1.0\"?>\n<ProcessList id=\"1\">\n  <LUT3D\n</ProcessList>\n");
  expectError({"look", "words.cube"}, 1, "words.cube, line 3: a line of the table is three numbers");
  expectError({"look", "short.cube"}, 1, "a table of 2x2x2 has 8 lines, this one 2; export it anew");
  expectError({"look", "none.cube"}, 1, "none.cube, line 1: the file has no line LUT_3D_SIZE");
  expectError({"look", "broken.clf"}, 1, "broken.clf, line 2: is not a colour table that can be read");
}

TEST_F(Messages, OfDrawingsRecipesAndLooks) {
  writeContent(folder / "broken.svg", "<svg xmlns=\"http://www.w3.org/2000/svg\">\n<g>\n</svg>\n");
  expectError({"mask", "photo.png", "--drawing", "broken.svg", "-o", "m.png"}, 1,
              "broken.svg: is not a readable SVG drawing (broken at line 4, column ");
  writeContent(folder / "a.toml", "[settings]\nlikeness = \n");
  writeContent(folder / "b.toml", "[settings]\nlikeness = 2\nlikeness = 3\n");
  for (const Words& words : {Words{"paint", "photo.png", "--after", "ref.png", "-o", "x.png", "--recipe"},
                             Words{"grade", "photo.png", "-o", "x.png", "--look"}}) {
    const auto with = [&](const char* file) {
      Words all = words;
      all.emplace_back(file);
      return all;
    };
    expectError(with("a.toml"), 2, "a.toml, line 2, column 12: this is no TOML: a line is name = value");
    expectError(with("b.toml"), 2, "b.toml, line 3, column 12: this is said a second time; once is right");
  }
}

TEST_F(Messages, OfClips) {
  testing_support::ClipRecipe clip;
  clip.frames = 3;
  testing_support::writeClip(folder / "clip.mkv", clip, testing_support::gliding(64, 48, 1, 0));
  const auto film = [](const char* input, const char* output, const char* codec) {
    return Words{"film", input, "--grade", "--after", "ref.png", "--codec", codec, "-o", output};
  };
  expectError(film("clip.mkv", "x.mp4", "ffv1"), 2,
              "the codec ffv1 does not go into .mp4 files; choose h264 for .mp4, or name the result .mkv");
  expectError(film("clip.mkv", "x.webm", "h264"), 2,
              "the codec h264 does not go into .webm files; choose vp9");
  writeContent(folder / "noise.mp4", std::string(3000, '\x17'));
  expectError(film("noise.mp4", "x.mkv", "auto"), 1,
              "noise.mp4 cannot be read as a clip (its data is damaged or not what its beginning says)");
  // The film that is there is named, not its recipe.
  writeContent(folder / "x.mkv", "a film");
  writeContent(folder / "x.recipe.toml", "film = \"x.mkv\"\n");
  expectError(film("clip.mkv", "x.mkv", "auto"), 1, "x.mkv exists already");
}

TEST_F(Messages, OfSwitchesWithValues) {
  expectError({"grade", "photo.png", "--after", "ref.png", "-o", "x.png", "--force=yes"}, 2,
              "--force takes no value; name it alone");
}

}  // namespace
}  // namespace jugendstil
