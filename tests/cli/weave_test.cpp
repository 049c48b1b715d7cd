// SPDX-License-Identifier: Apache-2.0
// `weave`, driven from outside.
#include <gtest/gtest.h>

#include <csignal>

#include "image/picture_file.h"
#include "support/program.h"
#include "support/support.h"
#include "weave/cloth.h"
#include "weave/recipe.h"

namespace jugendstil {
namespace {

using testing_support::cloth;
using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::writeContent;

class WeaveProgram : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "moss.png", cloth(64, 64), Depth::eight);
    writePicture(folder / "gravel.png", cloth(72, 64, 2, 0.5F), Depth::eight);
  }
  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }
  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }
  testing_support::TemporaryFolder folder;
};

TEST_F(WeaveProgram, GrowsAPieceAndDoesItAgain) {
  const RunResult r = run({"weave", "moss.png", "-o", "out.png", "--size", "150x90", "--repeats", "both"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("out.png: 150x90, woven in"), std::string::npos) << r.out;
  const Image piece = readPicture(folder / "out.png").image;
  EXPECT_EQ(piece.width, 150);
  EXPECT_EQ(piece.height, 90);
  const std::string bytes = contentOf(folder / "out.png");
  EXPECT_EQ(run({"redo", "out.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "out-again.png"), bytes);
  EXPECT_EQ(run({"redo", "out.recipe.toml", "--seed", "2", "-o", "two.png"}).code, 0);
  EXPECT_NE(contentOf(folder / "two.png"), bytes);
  const RunResult history = run({"history", "."});
  EXPECT_NE(history.out.find("weave a piece from moss.png: size 150x90, repeats both, seed 2"),
            std::string::npos)
      << history.out;
  EXPECT_NE(run({"history", "out.png", "two.png", "--differs"}).out.find("seed: 1 / 2"), std::string::npos);
  // A preset for another swatch.
  EXPECT_EQ(run({"weave", "gravel.png", "--recipe", "two.recipe.toml", "-o", "three.png"}).code, 0);
  const WeaveRecipe third =
      parseWeaveRecipe(contentOf(folder / "three.recipe.toml"), folder / "three.recipe.toml");
  EXPECT_EQ(third.settings.seed, 2U);
  EXPECT_EQ(third.swatches.at(0).path.filename(), "gravel.png");
}

TEST_F(WeaveProgram, SixteenBitsStaySixteen) {
  writePicture(folder / "deep.tif", cloth(64, 64), Depth::sixteen);
  EXPECT_EQ(run({"weave", "deep.tif", "-o", "out.tif", "--size", "80x80"}).code, 0);
  EXPECT_EQ(readPicture(folder / "out.tif").depth, Depth::sixteen);
  EXPECT_EQ(run({"weave", "deep.tif", "-o", "out.png", "--size", "80x80", "--depth", "8"}).code, 0);
  EXPECT_EQ(readPicture(folder / "out.png").depth, Depth::eight);
}

TEST_F(WeaveProgram, MixesFollowsAndFills) {
  EXPECT_EQ(
      run({"weave", "moss.png@3", "gravel.png", "--mix", "blended", "-o", "mix.png", "--size", "90x90"}).code,
      0);
  writeContent(
      folder / "left.svg",
      "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 80 80'><rect width='40' height='80'/></svg>");
  EXPECT_EQ(run({"mask", "moss.png", "--drawing", "left.svg", "-o", "left.png"}).code, 0);
  EXPECT_EQ(run({"weave", "moss.png", "--layout", "left.png", "-o", "along.png"}).code, 0);
  EXPECT_EQ(readPicture(folder / "along.png").image.width, 64);
  EXPECT_EQ(run({"weave", "moss.png", "gravel.png", "--over", "left.png", "-o", "over.png"}).code, 0);
  EXPECT_EQ(run({"weave", "moss.png", "--fill", "left.png", "-o", "filled.png"}).code, 0);
  const Image filled = readPicture(folder / "filled.png").image;
  const Image moss = readPicture(folder / "moss.png").image;
  EXPECT_EQ(filled.at(60, 30, 0), moss.at(60, 30, 0));
  EXPECT_NE(crop(filled, 0, 0, 30, 64).pixels, crop(moss, 0, 0, 30, 64).pixels);
}

TEST_F(WeaveProgram, VariesOnASheetAndTellsItsTime) {
  const RunResult plan =
      run({"weave", "moss.png", "-o", "many/", "--vary", "seed=1,2", "--size", "70x70", "--dry-run"});
  EXPECT_EQ(plan.code, 0) << plan.err;
  EXPECT_NE(plan.out.find("time: about"), std::string::npos) << plan.out;
  EXPECT_FALSE(std::filesystem::exists(folder / "many"));
  const RunResult r = run(
      {"weave", "moss.png", "-o", "many/", "--vary", "seed=1,2", "--size", "70x70", "--progress", "json"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_TRUE(std::filesystem::exists(folder / "many/moss-seed-2.png"));
  EXPECT_TRUE(std::filesystem::exists(folder / "many/sheet.png"));
  EXPECT_NE(r.out.find("\"event\":\"progress\""), std::string::npos);
  EXPECT_NE(r.out.find("\"event\":\"done\""), std::string::npos);
  // What is there is kept, and what is not is woven.
  std::filesystem::remove(folder / "many/moss-seed-2.png");
  std::filesystem::remove(folder / "many/moss-seed-2.recipe.toml");
  const auto kept = std::filesystem::last_write_time(folder / "many/moss-seed-1.png");
  const RunResult again = run({"weave", "moss.png", "-o", "many/", "--vary", "seed=1,2", "--size", "70x70"});
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_NE(again.err.find("1 of 2 pieces are there already and kept"), std::string::npos) << again.err;
  EXPECT_TRUE(std::filesystem::exists(folder / "many/moss-seed-2.png"));
  EXPECT_EQ(std::filesystem::last_write_time(folder / "many/moss-seed-1.png"), kept);
  expectError({"weave", "moss.png", "-o", "many/", "--vary", "seed=1,2", "--size", "80x70"}, 1, "exists");
  expectError({"weave", "moss.png", "-o", "others/", "--vary", "seed=3,3"}, 2, "two pieces would be named");
}

TEST_F(WeaveProgram, WeavesAPhotoOfItsReferences) {
  writePicture(folder / "photo.png", testing_support::sample(96, 64), Depth::eight);
  const std::vector<std::string> words{"weave",     "moss.png", "gravel.png@2", "--along",
                                       "photo.png", "-o",       "out.png"};
  const RunResult r = run(words);
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("out.png: 96x64, woven in"), std::string::npos) << r.out;
  const std::string bytes = contentOf(folder / "out.png");
  EXPECT_EQ(run({"redo", "out.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "out-again.png"), bytes);
  EXPECT_EQ(run({"redo", "out.recipe.toml", "--likeness", "90", "-o", "held.png"}).code, 0);
  EXPECT_NE(contentOf(folder / "held.png"), bytes);
  const WeaveRecipe recipe =
      parseWeaveRecipe(contentOf(folder / "held.recipe.toml"), folder / "held.recipe.toml");
  EXPECT_EQ(recipe.settings.likeness, 90);
  EXPECT_EQ(recipe.swatches.at(1).share, 2);
  EXPECT_EQ(recipe.along.value().path.filename(), "photo.png");
  EXPECT_NE(run({"history", "."}).out.find("from moss.png @1 and gravel.png @2 along photo.png"),
            std::string::npos)
      << run({"history", "."}).out;
}

TEST_F(WeaveProgram, WeavesPartsOfAPhoto) {
  const Image photo = testing_support::sample(96, 64);
  writePicture(folder / "photo.png", photo, Depth::eight);
  writeContent(
      folder / "left.svg",
      "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 96 64'><rect width='40' height='64'/></svg>");
  EXPECT_EQ(run({"weave", "--along", "photo.png", "--part", "left.svg=moss.png", "-o", "part.png"}).code, 0);
  const Image part = readPicture(folder / "part.png").image;
  const Image given = readPicture(folder / "photo.png").image;
  EXPECT_EQ(crop(part, 60, 0, 36, 64).pixels, crop(given, 60, 0, 36, 64).pixels);
  EXPECT_NE(crop(part, 0, 0, 36, 64).pixels, crop(given, 0, 0, 36, 64).pixels);
  EXPECT_EQ(run({"redo", "part.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "part-again.png"), contentOf(folder / "part.png"));
  EXPECT_EQ(run({"weave", "moss.png", "--along", "photo.png", "--outside", "left.svg", "-o", "out.png"}).code,
            0);
  const Image out = readPicture(folder / "out.png").image;
  EXPECT_EQ(crop(out, 0, 0, 36, 64).pixels, crop(given, 0, 0, 36, 64).pixels);
  // Drafts of it, on a sheet.
  const RunResult many =
      run({"weave", "moss.png", "--along", "photo.png", "--vary", "likeness=20,80", "-o", "many/"});
  EXPECT_EQ(many.code, 0) << many.err;
  EXPECT_TRUE(std::filesystem::exists(folder / "many/photo-likeness-20.png"));
  EXPECT_TRUE(std::filesystem::exists(folder / "many/sheet.png"));
}

TEST_F(WeaveProgram, SaysWhatDoesNotGoAlongAPhoto) {
  writePicture(folder / "photo.png", testing_support::sample(96, 64), Depth::eight);
  expectError({"weave", "moss.png", "-o", "o.png", "--likeness", "30"}, 2,
              "--likeness goes with --along PHOTO");
  expectError({"weave", "moss.png", "-o", "o/", "--vary", "likeness=30,40"}, 2,
              "--vary likeness goes with --along");
  expectError({"weave", "moss.png", "-o", "o.png", "--inside", "photo.png"}, 2, "go with --along PHOTO");
  expectError({"weave", "moss.png", "-o", "o.png", "--along", "photo.png", "--size", "50x50"}, 2,
              "--long-edge");
  expectError({"weave", "moss.png", "-o", "o.png", "--along", "photo.png", "--layout", "photo.png"}, 2,
              "without");
  expectError({"weave", "--along", "photo.png", "-o", "o.png"}, 2, "--along needs references");
  expectError({"weave", "moss.png", "-o", "o.png", "--along", "photo.png", "--long-edge", "20"}, 1,
              "at least 32");
  Image glass(64, 64, 4, 0.5F);
  glass.at(3, 3, 0) = 1;
  writePicture(folder / "glass.png", glass, Depth::eight);
  expectError({"weave", "glass.png", "-o", "o.png", "--along", "photo.png"}, 1, "glass.png is transparent");
  writeContent(
      folder / "left.svg",
      "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 96 64'><rect width='40' height='64'/></svg>");
  expectError({"weave", "-o", "o.png", "--along", "photo.png", "--part", "left.svg=glass.png"}, 1,
              "transparent");
  expectError({"weave", "moss.png", "-o", "photo.png", "--along", "photo.png", "--force"}, 2,
              "would replace");
  EXPECT_FALSE(std::filesystem::exists(folder / "o.png"));
}

TEST_F(WeaveProgram, OfSeveralTheOnesBeforeAStopAreToldOf) {
  const RunResult r = testing_support::runAndSignalWhen(
      {"weave", "moss.png", "-o", "many/", "--vary", "size=40x40,3000x3000"}, folder.path,
      [&] { return std::filesystem::exists(folder / "many/moss-size-40x40.recipe.toml"); }, SIGINT);
  EXPECT_EQ(r.code, 130);
  EXPECT_NE(r.err.find("1 of 2 pieces are there, the same command goes on with the rest"), std::string::npos)
      << r.err;
}

TEST_F(WeaveProgram, StopsWithoutAResult) {
  const RunResult r = testing_support::runAndSignal(
      {"weave", "moss.png", "-o", "out.png", "--size", "3000x3000"}, folder.path, "weaving", SIGINT);
  EXPECT_EQ(r.code, 130);
  EXPECT_NE(r.err.find("stopped; nothing was written"), std::string::npos) << r.err;
  EXPECT_FALSE(std::filesystem::exists(folder / "out.png"));
}

TEST_F(WeaveProgram, SaysWhatIsWrong) {
  const auto weave = [](std::vector<std::string> words) {
    words.insert(words.begin(), {"weave"});
    words.insert(words.end(), {"-o", "out.png"});
    return words;
  };
  expectError({"weave"}, 2, "weave needs a swatch");
  expectError({"weave", "moss.png"}, 2, "add -o OUT.png");
  expectError(weave({"none.png"}), 1, "none.png");
  expectError(weave({"moss.png", "--size", "0x20"}), 2, "size's width");
  expectError(weave({"moss.png", "--size", "65000x65000"}), 1, "choose a smaller size");
  expectError(weave({"moss.png@x"}), 2, "the share behind @");
  expectError(weave({"moss.png", "--of", "moss.png"}), 2, "--of goes with --layout");
  expectError(weave({"moss.png", "--over", "gravel.png"}), 2, "name more than one");
  expectError(weave({"moss.png", "--layout", "moss.png", "--of", "gravel.png"}), 1,
              "a swatch's map has its size");
  expectError(weave({"moss.png", "--layout", "gravel.png", "--size", "90x60"}), 1,
              "a map has its piece's format");
  expectError({"weave", "gravel.png", "--layout", "moss.png", "-o", "moss.png", "--force"}, 2,
              "would replace");
  expectError(weave({"moss.png", "--from", "gravel.png"}), 2, "--from goes with --fill");
  expectError(weave({"moss.png", "gravel.png", "--fill", "moss.png"}), 2, "one picture is filled at a time");
  writePicture(folder / "small.png", cloth(20, 64), Depth::eight);
  expectError(weave({"small.png"}), 1, "at least 32 pixels a side");
  writePicture(folder / "grey.png", Image(64, 64, 3, 0.5F), Depth::eight);
  expectError(weave({"grey.png"}), 1, "one colour all over");
  writePicture(folder / "glass.png", Image(64, 64, 4, 0.5F), Depth::eight);
  expectError(weave({"glass.png"}), 1, "transparent");
  writePicture(folder / "white.png", Image(64, 64, 1, 1.0F), Depth::eight);
  expectError(weave({"moss.png", "--fill", "white.png"}), 1, "covers the whole picture");
  writePicture(folder / "black.png", Image(64, 64, 1, 0.0F), Depth::eight);
  expectError(weave({"moss.png", "--fill", "black.png"}), 1, "nothing to fill");
  Image red(64, 64, 3, 0.0F);
  for (std::size_t i = 0; i < red.area(); ++i) red.pixel(i)[0] = 1;
  writePicture(folder / "red.png", red, Depth::eight);
  writePicture(folder / "dark.png", Image(64, 64, 3, 0.0F), Depth::eight);
  expectError(weave({"moss.png", "--layout", "red.png", "--of", "dark.png"}), 2, "#ff0000 at 1,1");
}

}  // namespace
}  // namespace jugendstil
