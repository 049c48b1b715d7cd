// SPDX-License-Identifier: Apache-2.0
// `dive`, driven from outside.
#include <gtest/gtest.h>

#include <csignal>

#include "clip/clip.h"
#include "dive/recipe.h"
#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::writeContent;

class DiveProgram : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "gate.png", sample(96, 72), Depth::eight);
    writePicture(folder / "poster.png", sample(80, 80, 5), Depth::eight);
  }
  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }
  std::vector<std::string> dive(const std::string& output, const std::vector<std::string>& more = {}) const {
    std::vector<std::string> words{"dive", "gate.png", "-o", output, "--band", "fine", "--length", "6"};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }
  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }
  testing_support::TemporaryFolder folder;
};

TEST_F(DiveProgram, DivesAndDoesItAgain) {
  const RunResult r = run(dive("in.mkv", {"--zoom", "1.01", "--zoom", "3=1.05"}));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("in.mkv: 96x72, 6 frames, made in"), std::string::npos) << r.out;
  EXPECT_EQ(openClip((folder / "in.mkv").string())->info().times.size(), 6U);
  EXPECT_FALSE(fs::exists(folder / "in.mkv.work"));
  EXPECT_EQ(run({"redo", "in.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "in-again.mkv"), contentOf(folder / "in.mkv"));
  EXPECT_EQ(run({"redo", "in.recipe.toml", "--strength", "80", "-o", "two.mkv"}).code, 0);
  EXPECT_NE(contentOf(folder / "two.mkv"), contentOf(folder / "in.mkv"));
  EXPECT_NE(run({"history", "in.mkv", "two.mkv", "--differs"}).out.find("strength: auto / 80"),
            std::string::npos);
  const DiveRecipe recipe = parseDiveRecipe(contentOf(folder / "in.recipe.toml"), folder / "in.recipe.toml");
  EXPECT_EQ(diveSettingText(recipe.settings, "zoom"), "1.01; 3=1.05");
}

TEST_F(DiveProgram, StoppedByCtrlCItGoesOnWithTheSameCommand) {
  auto words = dive("in.mkv", {"--progress", "bar", "--length", "6", "--zoom", "1.03"});
  words.erase(words.begin() + 6, words.begin() + 8);
  const RunResult stopped = testing_support::runAndSignal(words, folder.path, "diving  frame 4/6", SIGINT);
  EXPECT_EQ(stopped.code, 130) << stopped.err;
  EXPECT_NE(stopped.out.find("the same command goes on from there"), std::string::npos) << stopped.out;
  EXPECT_FALSE(fs::exists(folder / "in.mkv"));
  EXPECT_TRUE(fs::exists(folder / "in.mkv.work/painted_000001.png"));
  const RunResult on = run(words);
  EXPECT_EQ(on.code, 0);
  EXPECT_NE(on.err.find("kept)"), std::string::npos) << on.err;
  words[3] = "again.mkv";
  EXPECT_EQ(run(words).code, 0);
  EXPECT_EQ(contentOf(folder / "in.mkv"), contentOf(folder / "again.mkv"));
}

TEST_F(DiveProgram, APathMovesIt) {
  writeContent(folder / "way.toml", "[[key]]\nat = 0\nzoom = 1.0\n[[key]]\nat = 5\nzoom = 1.1\n");
  const RunResult r = run(dive("in.mkv", {"--path", "way.toml"}));
  EXPECT_EQ(r.code, 0) << r.err;
  const DiveRecipe recipe = parseDiveRecipe(contentOf(folder / "in.recipe.toml"), folder / "in.recipe.toml");
  EXPECT_EQ(diveSettingText(recipe.settings, "zoom"), "0=1; 5=1.1");
  expectError(dive("b.mkv", {"--path", "way.toml", "--zoom", "1.2"}), 2, "--path and --zoom both say zoom");
  writeContent(folder / "bad.toml", "[[key]]\nat = 0\nzoom = 0\n");
  expectError(dive("b.mkv", {"--path", "bad.toml"}), 2, "bad.toml, line 3, column 8: zoom is above 0");
}

TEST_F(DiveProgram, FollowsAndCarriesASound) {
  testing_support::ClipRecipe recipe;
  recipe.frames = 8;
  recipe.sound = true;
  testing_support::writeClip((folder / "song.mkv").string(), recipe, testing_support::gliding(64, 48, 1, 0));
  const RunResult r = run({"dive", "gate.png", "-o", "in.mkv", "--band", "fine", "--sound", "song.mkv",
                           "--follow-sound", "strength=all,zoom=bass"});
  EXPECT_EQ(r.code, 0) << r.err;
  const ClipInfo info = openClip((folder / "in.mkv").string())->info();
  EXPECT_EQ(info.sound, "pcm_s16le");
  EXPECT_GE(info.times.size(), 7U);  // as long as the sound
}

TEST_F(DiveProgram, FramesAreWrittenOneByOne) {
  EXPECT_EQ(run(dive("frames/", {"--progress", "json"})).code, 0);
  EXPECT_TRUE(fs::exists(folder / "frames/frame_00005.png"));
  EXPECT_TRUE(fs::exists(folder / "frames/frame.recipe.toml"));
}

TEST_F(DiveProgram, SaysWhatItWouldDo) {
  const RunResult r = run(dive("in.mkv", {"--dry-run", "--loop"}));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("diving into gate.png: 6 frames at 96x72"), std::string::npos) << r.out;
  EXPECT_NE(r.out.find("frames an hour"), std::string::npos) << r.out;
  EXPECT_NE(r.out.find("for the loop"), std::string::npos) << r.out;
  EXPECT_FALSE(fs::exists(folder / "in.mkv.work"));
}

TEST_F(DiveProgram, SaysWhatIsWrongInOneLine) {
  expectError({"dive", "-o", "in.mkv"}, 2, "dive needs a start");
  expectError({"dive", "gate.png"}, 2, "add -o OUT.mkv");
  expectError(dive("in.mkv", {"--zoom", "0"}), 2, "--zoom is above 0");
  expectError(dive("in.mkv", {"--zoom", "-2"}), 2, "--zoom is above 0");
  expectError(dive("in.mkv", {"--zoom", "5"}), 2, "at most 4 a frame");
  expectError(dive("in.mkv", {"--zoom", "1", "--zoom", "2s=2", "--zoom", "1s=2"}), 2,
              "the key at 1s stands behind the one at 2s");
  expectError({"dive", "gate.png", "-o", "in.mkv", "--band", "brood"}, 2, "did you mean \"broad\"");
  expectError(dive("in.mkv", {"--centre", "50%,101%"}), 2, "outside the picture");
  expectError(dive("in.mkv", {"--shift", "90,0"}), 2, "the shift leaves the picture");
  expectError(dive("in.mkv", {"--sound", "song.flac"}), 1, "there is no sound file song.flac");
  expectError(dive("in.mkv", {"--follow-sound", "zoom=bass"}), 2, "add --sound FILE");
  expectError(dive("in.mkv", {"--by", "amplify", "--after", "poster.png"}), 2, "--towards REF");
  expectError(dive("in.mkv", {"--after", "poster.png"}), 2, "--band is of amplifying");
  expectError(dive("in.mkv", {"--source", "20"}), 2, "mixes a clip's frames in");
  expectError(dive("in.mkv", {"--inside", "gate.png", "--outside", "gate.png"}), 2, "give one of them");
  expectError(dive("in.mkv", {"--inside", "sky.png"}), 1, "sky.png");
  expectError(dive("gate.png"), 2, "");
  writeContent(folder / "in.mkv", "mine");
  expectError(dive("in.mkv"), 1, "--force");
  EXPECT_EQ(contentOf(folder / "in.mkv"), "mine");
}

TEST_F(DiveProgram, APaintedOneGoesFromReferenceToReference) {
  const RunResult r = run({"dive", "gate.png", "--after", "poster.png", "5=gate.png", "--levels", "1",
                           "--steps", "2", "--frame-steps", "1", "--length", "4", "-o", "in.mkv"});
  EXPECT_EQ(r.code, 0) << r.err;
  const std::string recipe = contentOf(folder / "in.recipe.toml");
  EXPECT_NE(recipe.find("at = '5'"), std::string::npos) << recipe;
  EXPECT_NE(recipe.find("by = 'paint'"), std::string::npos) << recipe;
}

}  // namespace
}  // namespace jugendstil
