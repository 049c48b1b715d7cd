// SPDX-License-Identifier: Apache-2.0
// `amplify`, driven from outside.
#include <gtest/gtest.h>

#include <csignal>

#include "amplify/recipe.h"
#include "image/picture_file.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::writeContent;

class AmplifyProgram : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "gate.png", sample(96, 72), Depth::eight);
    writePicture(folder / "poster.png", sample(80, 80, 5), Depth::eight);
  }
  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }
  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }
  testing_support::TemporaryFolder folder;
};

TEST_F(AmplifyProgram, AmplifiesAndDoesItAgain) {
  const RunResult r =
      run({"amplify", "gate.png", "--band", "small", "--towards", "poster.png@2", "-o", "out.png"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("out.png: 96x72, amplified in"), std::string::npos) << r.out;
  const std::string bytes = contentOf(folder / "out.png");
  EXPECT_NE(bytes, contentOf(folder / "gate.png"));
  EXPECT_EQ(run({"redo", "out.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "out-again.png"), bytes);
  EXPECT_EQ(run({"redo", "out.recipe.toml", "--strength", "80", "-o", "two.png"}).code, 0);
  EXPECT_NE(contentOf(folder / "two.png"), bytes);
  const RunResult history = run({"history", ".", "--of", "amplify"});
  EXPECT_NE(history.out.find("amplify gate.png towards poster.png: band small, strength 80"),
            std::string::npos)
      << history.out;
  EXPECT_NE(run({"history", "out.png", "two.png", "--differs"}).out.find("strength: 50 / 80"),
            std::string::npos);
  // A preset for another photo, without its photo.
  EXPECT_EQ(run({"amplify", "poster.png", "--recipe", "two.recipe.toml", "-o", "three.png"}).code, 0);
  const AmplifyRecipe third =
      parseAmplifyRecipe(contentOf(folder / "three.recipe.toml"), folder / "three.recipe.toml");
  EXPECT_EQ(third.settings.strength, 80);
  EXPECT_EQ(third.photo->path.filename(), "poster.png");
}

TEST_F(AmplifyProgram, FindsAPhotoThatWasMoved) {
  ASSERT_EQ(run({"amplify", "gate.png", "--band", "fine", "-o", "out.png"}).code, 0);
  const std::string bytes = contentOf(folder / "out.png");
  fs::create_directory(folder / "photos");
  fs::rename(folder / "gate.png", folder / "photos/door.png");
  const RunResult r = run({"redo", "out.recipe.toml"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(contentOf(folder / "out-again.png"), bytes);
}

TEST_F(AmplifyProgram, VariesOntoASheetAndKeepsWhatIsThere) {
  const std::vector<std::string> words{"amplify", "gate.png",       "--vary", "band=fine,small",
                                       "--vary",  "strength=20,60", "-o",     "some/"};
  const RunResult r = run(words);
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("sheet.png: 4 pieces side by side"), std::string::npos) << r.out;
  EXPECT_TRUE(fs::exists(folder / "some/gate-band-small-strength-60.png"));
  const auto before = fs::last_write_time(folder / "some/gate-band-fine-strength-20.png");
  fs::remove(folder / "some/gate-band-small-strength-60.png");
  fs::remove(folder / "some/gate-band-small-strength-60.recipe.toml");
  const RunResult again = run(words);
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_NE(again.err.find("3 of 4 pieces are there already and kept"), std::string::npos) << again.err;
  EXPECT_EQ(fs::last_write_time(folder / "some/gate-band-fine-strength-20.png"), before);
}

TEST_F(AmplifyProgram, SurveysAllBands) {
  writePicture(folder / "large.png", sample(110, 104), Depth::eight);
  const RunResult dry = run({"amplify", "large.png", "--survey", "-o", "bands.png", "--dry-run"});
  EXPECT_NE(dry.out.find("5 bands with patterns of 3 sizes"), std::string::npos) << dry.out;
  EXPECT_FALSE(fs::exists(folder / "bands.png"));
  // Too small for the bands of large forms.
  writePicture(folder / "small.png", sample(48, 40), Depth::eight);
  const RunResult r = run({"amplify", "small.png", "--survey", "-o", "bands.png"});
  EXPECT_EQ(r.code, 0) << r.err;
  const Image sheet = readPicture(folder / "bands.png").image;
  EXPECT_GT(sheet.width, 3 * 300);
  EXPECT_GT(sheet.height, 3 * 200);
  EXPECT_FALSE(fs::exists(folder / "bands.recipe.toml"));
  expectError({"amplify", "large.png", "--survey", "--band", "fine", "-o", "x.png"}, 2, "all bands");
  expectError({"amplify", "large.png", "--survey", "--towards", "poster.png", "-o", "poster.png", "--force"},
              2, "poster.png");
  expectError({"amplify", "large.png", "--survey", "--vary", "strength=1,2", "-o", "x/"}, 2, "exclude");
}

TEST_F(AmplifyProgram, KeepsDepthAlphaAndTakesPipes) {
  Image clear(64, 48, 4, 0.5F);
  for (int x = 0; x < 64; ++x) clear.at(x, 10, 0) = 1;
  for (int x = 0; x < 20; ++x) clear.at(x, 20, 3) = 0;
  writePicture(folder / "clear.png", clear, Depth::sixteen);
  ASSERT_EQ(run({"amplify", "clear.png", "--band", "fine", "-o", "out.png"}).code, 0);
  const Picture out = readPicture(folder / "out.png");
  EXPECT_EQ(out.depth, Depth::sixteen);
  ASSERT_EQ(out.image.channels, 4);
  EXPECT_EQ(out.image.at(5, 20, 3), 0);
  EXPECT_NEAR(out.image.at(40, 20, 3), 0.5, 1e-4);
  const RunResult piped =
      testing_support::runProgram({"amplify", "-", "--band", "fine", "-o", "piped.png"}, folder.path,
                                  {"", "", 0, {}, (folder / "gate.png").string()});
  EXPECT_EQ(piped.code, 0) << piped.err;
  ASSERT_EQ(run({"amplify", "gate.png", "--band", "fine", "-o", "named.png"}).code, 0);
  EXPECT_EQ(readPicture(folder / "piped.png").image.pixels, readPicture(folder / "named.png").image.pixels);
  EXPECT_FALSE(
      parseAmplifyRecipe(contentOf(folder / "piped.recipe.toml"), folder / "piped.recipe.toml").photo);
}

TEST_F(AmplifyProgram, KeepsThePictureOnTheWay) {
  ASSERT_EQ(run({"amplify", "gate.png", "--band", "fine", "--snapshots", "4", "-o", "out.png"}).code, 0);
  EXPECT_TRUE(fs::exists(folder / "out.step-00004.png"));
  EXPECT_TRUE(fs::exists(folder / "out.steps.png"));
  expectError({"amplify", "gate.png", "--snapshots", "10", "-o", "-"}, 2, "snapshots need");
}

TEST_F(AmplifyProgram, StoppedItSaysWhatIsThere) {
  const std::vector<std::string> words{"amplify", "gate.png",    "--band", "large", "--long-edge",
                                       "400",     "--snapshots", "1",      "-o",    "kept.png"};
  const auto first = [&] { return fs::exists(folder / "kept.step-00002.png"); };
  const RunResult r = testing_support::runAndSignalWhen(words, folder.path, first, SIGINT);
  EXPECT_EQ(r.code, 130) << r.err;
  EXPECT_NE(r.err.find("stopped; the pictures on the way are there, on kept.steps.png"), std::string::npos)
      << r.err;
  EXPECT_TRUE(fs::exists(folder / "kept.steps.png"));
  EXPECT_FALSE(fs::exists(folder / "kept.png"));
}

TEST_F(AmplifyProgram, TellsWhatItWouldDo) {
  const RunResult r =
      run({"amplify", "gate.png", "--band", "small", "--pattern", "20%", "--dry-run", "-o", "out.png"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("96x72, band small, patterns of up to 19 pixels at 3 sizes"), std::string::npos)
      << r.out;
  EXPECT_NE(r.out.find("would write out.recipe.toml"), std::string::npos) << r.out;
  EXPECT_NE(r.out.find("memory: about"), std::string::npos);
  EXPECT_FALSE(fs::exists(folder / "out.png"));
}

TEST_F(AmplifyProgram, TakesDefaultsOfItsOwn) {
  fs::create_directories(folder / "config/jugendstil");
  writeContent(folder / "config/jugendstil/defaults.toml", "[amplify]\nstrength = 30\n\n[weave]\nseed = 3\n");
  const RunResult r =
      testing_support::runProgram({"amplify", "gate.png", "--band", "fine", "-o", "out.png"}, folder.path,
                                  {"", "", 0, {"XDG_CONFIG_HOME=" + (folder / "config").string()}});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(
      parseAmplifyRecipe(contentOf(folder / "out.recipe.toml"), folder / "out.recipe.toml").settings.strength,
      30);
}

TEST_F(AmplifyProgram, SaysInOneLineWhatIsWrong) {
  expectError({"amplify", "-o", "out.png"}, 2, "amplify needs a photo");
  expectError({"amplify", "gate.png"}, 2, "amplify needs a place for the result");
  expectError({"amplify", "none.png", "-o", "out.png"}, 1, "none.png");
  expectError({"amplify", "gate.png", "-o", "gate.png", "--force"}, 2, "gate.png");
  expectError({"amplify", "gate.png", "-o", "out.xyz"}, 2, "xyz");
  expectError({"amplify", "gate.png", "--band", "smal", "-o", "out.png"}, 2, "did you mean \"small\"?");
  expectError({"amplify", "gate.png", "--band", "small", "--channels", "64", "-o", "out.png"}, 2, "0 to 63");
  expectError({"amplify", "gate.png", "--band", "small", "--pattern", "1", "-o", "out.png"}, 2,
              "none below 7");
  expectError({"amplify", "gate.png", "--towards", "gone.png", "-o", "out.png"}, 1, "gone.png");
  writeContent(folder / "own.onnx", "no network");
  expectError({"amplify", "gate.png", "--network", "own.onnx", "-o", "out.png"}, 1, "own.onnx");
  ASSERT_EQ(run({"amplify", "gate.png", "--band", "fine", "-o", "out.png"}).code, 0);
  const std::string bytes = contentOf(folder / "out.png");
  expectError({"amplify", "gate.png", "--band", "fine", "--strength", "90", "-o", "out.png"}, 1, "out.png");
  EXPECT_EQ(contentOf(folder / "out.png"), bytes);
}

}  // namespace
}  // namespace jugendstil
