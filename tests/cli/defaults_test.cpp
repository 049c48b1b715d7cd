// SPDX-License-Identifier: Apache-2.0
// The user's own defaults.
#include <gtest/gtest.h>

#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::writeContent;
using Words = std::vector<std::string>;

class Defaults : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "photo.png", sample(60, 44), Depth::eight);
    writePicture(folder / "ref.png", sample(50, 40, 5), Depth::eight);
    fs::create_directories(folder / "config/jugendstil");
  }
  void write(const std::string& text) const {
    writeContent(folder / "config/jugendstil/defaults.toml", text);
  }
  RunResult dry(Words words) const {
    words.insert(words.end(),
                 {"--after", "ref.png", "-o", words[0] == "film" ? "out.mkv" : "out.png", "--dry-run"});
    return testing_support::runProgram(words, folder.path,
                                       {"", "", 0, {"XDG_CONFIG_HOME=" + (folder / "config").string()}});
  }
  testing_support::TemporaryFolder folder;
};

TEST_F(Defaults, AreTakenAndTold) {
  write("[paint]\nlikeness = 30\nsteps = \"1\"\n[grade]\namount = 80\n");
  const RunResult paint = dry({"paint", "photo.png"});
  EXPECT_EQ(paint.code, 0) << paint.err;
  EXPECT_NE(paint.out.find("  likeness 30\n  steps 1\n"), std::string::npos) << paint.out;
  EXPECT_EQ(paint.err.find("note: likeness 30, steps 1 from "), 0U) << paint.err;
  EXPECT_NE(paint.err.find("config/jugendstil/defaults.toml\n"), std::string::npos);
  EXPECT_NE(dry({"grade", "photo.png"}).out.find("  amount 80\n"), std::string::npos);
  EXPECT_EQ(dry({"paint", "photo.png", "-q"}).err, "");
}

TEST_F(Defaults, TheCommandLineAndPresetsGoBefore) {
  write("[paint]\nlikeness = 30\nstroke = 2\nsteps = \"1\"\n");
  writeContent(folder / "preset.toml", "[settings]\nstroke = 1.5\n");
  const RunResult r = dry({"paint", "photo.png", "--likeness", "70", "--recipe", "preset.toml"});
  EXPECT_NE(r.out.find("  likeness 70\n  stroke 1.5\n  steps 1\n"), std::string::npos) << r.out;
  EXPECT_EQ(r.err.find("note: steps 1 from "), 0U) << r.err;
}

TEST_F(Defaults, FilmsHaveTheirsWithThoseOfPainting) {
  testing_support::ClipRecipe clip;
  clip.frames = 2;
  testing_support::writeClip(folder / "clip.mkv", clip, testing_support::gliding(64, 48, 1, 0));
  write("[film]\nsteady = 80\nlikeness = 40\nsteps = \"1\"\n");
  const RunResult r = dry({"film", "clip.mkv"});
  EXPECT_NE(r.out.find("  likeness 40\n  steps 1\n  steady 80\n"), std::string::npos) << r.out << r.err;
}

TEST_F(Defaults, MistakesAreToldWithTheirPlace) {
  const auto wrong = [&](const std::string& text, const std::string& part) {
    write(text);
    const RunResult r = dry({"paint", "photo.png"});
    EXPECT_EQ(r.code, 2) << r.err;
    EXPECT_NE(r.err.find(part), std::string::npos) << r.err;
  };
  wrong("[paint]\nlikness = 30\n",
        "defaults.toml, line 2, column 1: unknown setting \"likness\"; did you mean \"likeness\"?");
  wrong("[pant]\nlikeness = 30\n", "unknown table \"pant\"; did you mean \"paint\"?");
  wrong("[paint]\nlikeness = 300\n", "likeness is a number from 0 to 100");
}

}  // namespace
}  // namespace jugendstil
