// SPDX-License-Identifier: Apache-2.0
// Many paintings at once, driven from outside.
#include <gtest/gtest.h>

#include <csignal>

#include "image/picture_file.h"
#include "paint/recipe.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::filesIn;
using testing_support::RunResult;
using testing_support::sample;

class TableProgram : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "a.png", sample(60, 44), Depth::eight);
    writePicture(folder / "b.png", sample(50, 48, 7), Depth::eight);
    writePicture(folder / "warm.png", sample(70, 60, 5), Depth::eight);
    writePicture(folder / "cold.png", sample(64, 60, 6), Depth::eight);
  }

  static std::vector<std::string> paintWords(std::vector<std::string> words,
                                             const std::vector<std::string>& more) {
    words.insert(words.begin(), "paint");
    words.insert(words.end(), {"--levels", "1", "--steps", "2", "-q"});
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }
  RunResult paint(const std::vector<std::string>& words, const std::vector<std::string>& more) const {
    return testing_support::runProgram(paintWords(words, more), folder.path);
  }
  void expectError(const std::vector<std::string>& words, const std::vector<std::string>& more, int code,
                   const std::string& part) const {
    testing_support::expectError(paintWords(words, more), folder.path, code, part);
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(TableProgram, PaintsPhotosByReferencesOntoASheet) {
  const RunResult r =
      paint({"a.png", "b.png", "--after", "warm.png", "--after", "cold.png", "--each"}, {"-o", "out"});
  ASSERT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(
      filesIn(folder / "out"),
      (std::vector<std::string>{"a-after-cold.png", "a-after-cold.recipe.toml", "a-after-warm.png",
                                "a-after-warm.recipe.toml", "b-after-cold.png", "b-after-cold.recipe.toml",
                                "b-after-warm.png", "b-after-warm.recipe.toml", "sheet.png"}));
  const auto recipe = folder / "out" / "b-after-cold.recipe.toml";
  const PaintRecipe made = parsePaintRecipe(contentOf(recipe), recipe);
  ASSERT_EQ(made.references.size(), 1U);
  EXPECT_EQ(made.references[0].path.filename(), "cold.png");
  // The cell's picture is the one that its recipe makes.
  ASSERT_EQ(testing_support::runProgram({"redo", recipe.string(), "-o", "again.png", "-q"}, folder.path).code,
            0);
  EXPECT_EQ(contentOf(folder / "again.png"), contentOf(folder / "out" / "b-after-cold.png"));
}

TEST_F(TableProgram, VariesSettingsInAllCombinations) {
  const RunResult r =
      paint({"a.png", "--after", "warm.png"}, {"--vary", "likeness=20,80", "--vary", "stroke=0.7,1.4",
                                               "--vary", "emphasis=fine=2,large=0;even", "-o", "grid"});
  ASSERT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(filesIn(folder / "grid").size(), 8U * 2 + 1);
  const auto recipe = folder / "grid" / "a-likeness-80-stroke-0.7-emphasis-fine_2_large_0.recipe.toml";
  const PaintRecipe made = parsePaintRecipe(contentOf(recipe), recipe);
  EXPECT_EQ(made.settings.likeness, 80);
  EXPECT_EQ(made.settings.stroke, 0.7);
  EXPECT_EQ(paintSettingText(made.settings, "emphasis"), "fine=2,large=0");
}

TEST_F(TableProgram, WhatIsPaintedIsKeptAndOtherFilesAreNotTouched) {
  const std::vector<std::string> words{"a.png", "b.png", "--after", "warm.png"};
  ASSERT_EQ(paint(words, {"-o", "out"}).code, 0);
  const std::string first = contentOf(folder / "out" / "a.png");
  std::filesystem::remove(folder / "out" / "b.png");
  std::filesystem::remove(folder / "out" / "b.recipe.toml");
  const RunResult again = paint(words, {"-o", "out"});
  ASSERT_EQ(again.code, 0) << again.err;
  EXPECT_EQ(again.out.find("a.png: 60x44"), std::string::npos);
  EXPECT_NE(again.out.find("b.png: 50x48"), std::string::npos);
  EXPECT_EQ(contentOf(folder / "out" / "a.png"), first);
  // Other settings would replace them.
  const RunResult other = paint(words, {"-o", "out", "--likeness", "70"});
  EXPECT_EQ(other.code, 1);
  EXPECT_NE(other.err.find("exists already"), std::string::npos);
  EXPECT_EQ(paint(words, {"-o", "out", "--likeness", "70", "--force"}).code, 0);
  EXPECT_NE(contentOf(folder / "out" / "a.png"), first);
}

// From three processors on recipes hold their number, and an earlier run's are known by it.
TEST_F(TableProgram, ManyProcessorsAreWrittenDownAndTheTableGoesOn) {
  testing_support::Surroundings many;
  many.environment = testing_support::withProcessors(4);
  const auto words = paintWords({"a.png", "--after", "warm.png", "--vary", "likeness=20,80"}, {"-o", "out"});
  ASSERT_EQ(testing_support::runProgram(words, folder.path, many).code, 0);
  const auto recipe = folder / "out" / "a-likeness-20.recipe.toml";
  EXPECT_EQ(parsePaintRecipe(contentOf(recipe), recipe).settings.threads, 4);
  const auto picture = folder / "out" / "a-likeness-20.png";
  const auto made = std::filesystem::last_write_time(picture);
  const RunResult again = testing_support::runProgram(words, folder.path, many);
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_EQ(std::filesystem::last_write_time(picture), made);
}

TEST_F(TableProgram, ADamagedPhotoIsToldOfBeforeTheFirstStroke) {
  testing_support::writeContent(folder / "torn.png", contentOf(folder / "b.png").substr(0, 900));
  expectError({"a.png", "torn.png", "--after", "warm.png"}, {"-o", "out"}, 1, "torn.png");
  EXPECT_FALSE(std::filesystem::exists(folder / "out"));
}

TEST_F(TableProgram, ForetellsTheWholeTable) {
  const RunResult r = paint({"a.png", "b.png", "--after", "warm.png"},
                            {"-o", "out", "--vary", "measure=gram,moments", "--dry-run"});
  ASSERT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("time for all 4: about "), std::string::npos) << r.out;
  EXPECT_FALSE(std::filesystem::exists(folder / "out"));
  // What is there already takes no time.
  const std::vector<std::string> two{"a.png", "b.png", "--after", "warm.png"};
  ASSERT_EQ(paint(two, {"-o", "kept"}).code, 0);
  for (const char* name : {"b.png", "b.recipe.toml"}) std::filesystem::remove(folder / "kept" / name);
  const RunResult rest = paint(two, {"-o", "kept", "--dry-run"});
  EXPECT_NE(rest.out.find("time for the missing 1: about "), std::string::npos) << rest.out;
}

TEST_F(TableProgram, TellsTheTimeToGoOnceItIsKnown) {
  const auto words = [](const char* output, std::vector<std::string> more) {
    std::vector<std::string> all{"paint",   "a.png", "b.png", "--after", "warm.png",   "--levels", "1",
                                 "--steps", "2",     "-o",    output,    "--progress", "lines"};
    all.insert(all.end(), more.begin(), more.end());
    return all;
  };
  ASSERT_EQ(testing_support::runProgram(words("x", {"--dry-run"}), folder.path).code, 0);
  const RunResult r = testing_support::runProgram(words("out", {}), folder.path);
  ASSERT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.err.find("painting 1 of 2, about "), std::string::npos) << r.err;
  EXPECT_NE(r.err.find("to go for all: a\n"), std::string::npos) << r.err;
}

TEST_F(TableProgram, StartsAndPartsCountAsSettingsDo) {
  testing_support::writeContent(
      folder / "left.svg",
      "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 60 44'><rect width='30' height='44'/></svg>");
  const std::vector<std::string> words{"a.png", "--after", "warm.png", "--part", "left.svg=cold.png"};
  const RunResult r = paint(words, {"--vary", "start=photo,noise,cold.png", "-o", "out"});
  ASSERT_EQ(r.code, 0) << r.err;
  EXPECT_NE(contentOf(folder / "out" / "a-start-photo.png"),
            contentOf(folder / "out" / "a-start-cold.png.png"));
  // All of it is there and kept,
  const RunResult again = paint(words, {"--vary", "start=photo,noise,cold.png", "-o", "out"});
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_EQ(std::count(again.out.begin(), again.out.end(), '\n'), 1) << again.out;
  // but what would be painted otherwise is not taken for it.
  writePicture(folder / "left.png", Image(60, 44, 1, 1.0F), Depth::eight);
  const RunResult other = paint({"a.png", "--after", "warm.png", "--part", "left.png=cold.png"},
                                {"--vary", "start=noise", "-o", "out"});
  EXPECT_EQ(other.code, 1);
  EXPECT_NE(other.err.find("exists already"), std::string::npos) << other.err;
}

TEST_F(TableProgram, StoppedItGoesOnWithTheSameCommand) {
  const std::vector<std::string> words{"paint",   "a.png",          "--after",    "warm.png",
                                       "--vary",  "likeness=20,80", "--levels",   "2",
                                       "--steps", "3,20",           "--progress", "lines"};
  const auto into = [&](const char* output) {
    std::vector<std::string> all = words;
    all.insert(all.end(), {"-o", output});
    return all;
  };
  const RunResult stopped = testing_support::runAndSignal(into("out/"), folder.path, "step 1 of", SIGINT);
  EXPECT_EQ(stopped.code, 130) << stopped.err;
  EXPECT_TRUE(std::filesystem::exists(folder / "out/a-likeness-20.png.unfinished")) << stopped.out;
  const RunResult again = testing_support::runProgram(into("out/"), folder.path);
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_NE(again.err.find("going on from level "), std::string::npos) << again.err;
  ASSERT_EQ(testing_support::runProgram(into("whole/"), folder.path).code, 0);
  for (const char* name : {"a-likeness-20.png", "a-likeness-80.png"})
    EXPECT_EQ(testing_support::contentOf(folder / ("out/" + std::string(name))),
              testing_support::contentOf(folder / ("whole/" + std::string(name))));
}

TEST_F(TableProgram, HistoryListsFiltersAndTellsDifferences) {
  ASSERT_EQ(
      paint({"a.png", "--after", "warm.png", "--after", "cold.png", "--each", "--vary", "likeness=20,80"},
            {"-o", "out"})
          .code,
      0);
  const auto history = [&](std::vector<std::string> words) {
    words.insert(words.begin(), "history");
    return testing_support::runProgram(words, folder.path);
  };
  const RunResult all = history({"out"});
  EXPECT_EQ(all.code, 0) << all.err;
  EXPECT_NE(all.out.find("a-after-cold-likeness-20.png\n  paint a.png after cold.png: likeness 20"),
            std::string::npos)
      << all.out;
  const RunResult some = history({"out", "--after", "cold", "--where", "likeness=80", "--sheet", "s.png"});
  EXPECT_EQ(some.out.find("likeness 20"), std::string::npos);
  EXPECT_NE(some.out.find("s.png: 1 result\n"), std::string::npos) << some.out;
  EXPECT_GT(readPicture(folder / "s.png").image.width, 200);
  const RunResult objects = history({"out", "--json", "--photo", "a"});
  EXPECT_EQ(std::count(objects.out.begin(), objects.out.end(), '\n'), 4);
  const RunResult two =
      history({"out/a-after-cold-likeness-20.png", "out/a-after-cold-likeness-80.png", "--differs"});
  EXPECT_EQ(two.out, "likeness: 20 / 80\n");
  EXPECT_NE(history({"out", "--where", "likeness=33"}).err.find("is like that"), std::string::npos);
  EXPECT_EQ(history({}).code, 2);
  EXPECT_EQ(history({"none"}).code, 1);
  EXPECT_EQ(history({"out", "--where", "likness=3"}).code, 2);
  EXPECT_EQ(history({"out", "--differs"}).code, 2);
}

TEST_F(TableProgram, SaysWhatIsWrong) {
  const std::vector<std::string> two{"a.png", "b.png", "--after", "warm.png"};
  expectError(two, {"-o", "a.png"}, 2, "a folder");
  expectError(two, {"-o", "new.png"}, 2, "a folder");
  expectError(two, {"-o", "x", "--vary", "likeness"}, 2, "likeness=20,50,80");
  expectError(two, {"-o", "x", "--vary", "likness=2"}, 2, "did you mean");
  expectError(two, {"-o", "x", "--vary", "likeness=20,200"}, 2, "0 to 100");
  expectError(two, {"-o", "x", "--layers", "x.ora"}, 2, "of one painting");
  expectError({"a.png", "a.png", "--after", "warm.png"}, {"-o", "x"}, 2, "names of their own");
  expectError(two, {}, 2, "-o OUT.png");
}

}  // namespace
}  // namespace jugendstil
