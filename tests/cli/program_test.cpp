// SPDX-License-Identifier: Apache-2.0
// The built program on files in a temporary folder.
#include "support/program.h"

#include <gtest/gtest.h>

#include <csignal>
#include <nlohmann/json.hpp>
#include <sstream>

#include "image/picture_file.h"
#include "paint/recipe.h"
#include "support/running.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

using testing_support::contentOf;
using testing_support::filesIn;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::writeContent;

class Program : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "photo.png", sample(60, 44), Depth::eight);
    writePicture(folder / "ref.png", sample(70, 60, 5), Depth::eight);
  }

  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }

  std::vector<std::string> paintWords(const std::string& output,
                                      const std::vector<std::string>& more = {}) const {
    std::vector<std::string> words{"paint", "photo.png", "--after", "ref.png", "-o",
                                   output,  "--levels",  "2",       "--steps", "3,4"};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }

  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(Program, HelpIsThereForEverySetting) {
  EXPECT_EQ(run({"--help"}).code, 0);
  EXPECT_NE(run({"--version"}).out.find("jugendstil"), std::string::npos);
  const std::string help = run({"paint", "--help"}).out;
  for (const SettingInfo& info : paintSettingTable())
    EXPECT_NE(help.find("--" + info.name), std::string::npos) << info.name;
  EXPECT_EQ(run({}).code, 2);
}

TEST_F(Program, PaintsAndWritesARecipe) {
  const RunResult r = run(paintWords("out.png"));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("out.png: 60x44, painted in"), std::string::npos) << r.out;
  EXPECT_EQ(filesIn(folder.path),
            (std::vector<std::string>{"out.png", "out.recipe.toml", "photo.png", "ref.png"}));
  EXPECT_EQ(readPicture(folder / "out.png").image.width, 60);
  const PaintRecipe recipe =
      parsePaintRecipe(contentOf(folder / "out.recipe.toml"), folder / "out.recipe.toml");
  EXPECT_TRUE(recipe.result->finished);
  EXPECT_EQ(recipe.references[0].path.filename(), "ref.png");
  EXPECT_EQ(recipe.references[0].checksum.size(), 40U);
}

TEST_F(Program, RedoGivesTheSameBytesAndVariesOneThing) {
  ASSERT_EQ(run(paintWords("out.png")).code, 0);
  EXPECT_EQ(run({"redo", "out.recipe.toml"}).code, 0);
  EXPECT_EQ(contentOf(folder / "out.png"), contentOf(folder / "out-again.png"));
  EXPECT_EQ(run({"redo", "out.recipe.toml", "--likeness", "10", "-o", "freer.png"}).code, 0);
  EXPECT_NE(contentOf(folder / "out.png"), contentOf(folder / "freer.png"));
  EXPECT_EQ(parsePaintRecipe(contentOf(folder / "freer.recipe.toml"), "x").settings.likeness, 10);
  writePicture(folder / "ref.png", sample(70, 60, 6), Depth::eight);
  const RunResult changed = run({"redo", "out.recipe.toml", "-o", "changed.png"});
  EXPECT_EQ(changed.code, 0);
  EXPECT_NE(changed.err.find("is not the file the recipe was made with"), std::string::npos) << changed.err;
}

TEST_F(Program, OneThreadAndTwoGiveTheSameBytes) {
  writePicture(folder / "photo.png", sample(160, 120), Depth::eight);
  for (const char* way : {"gram", "sliced", "critic"}) {
    const auto bytes = [&](const char* threads) {
      const std::string name = std::string(way) + threads + ".png";
      const RunResult r =
          run({"paint", "photo.png", "--after", "ref.png", "-o", name, "--steps", "4", "--measure", way,
               "--content", way == std::string("sliced") ? "structure" : "features", "--precision", "full",
               "--threads", threads});
      EXPECT_EQ(r.code, 0) << r.err;
      return contentOf(folder / name);
    };
    EXPECT_EQ(bytes("1"), bytes("2")) << way;
  }
}

TEST_F(Program, ARecipeServesAsAPreset) {
  writeContent(folder / "loose.toml", "[settings]\nlikeness = 12\nsteps = \"2\"\n");
  ASSERT_EQ(run({"paint", "photo.png", "--after", "ref.png", "--recipe", "loose.toml", "--stroke", "1.5",
                 "-o", "a.png"})
                .code,
            0);
  const PaintRecipe recipe = parsePaintRecipe(contentOf(folder / "a.recipe.toml"), "x");
  EXPECT_EQ(recipe.settings.likeness, 12);
  EXPECT_EQ(recipe.settings.stroke, 1.5);
}

TEST_F(Program, SeveralReferencesInShares) {
  writePicture(folder / "ref2.png", sample(50, 50, 8), Depth::eight);
  ASSERT_EQ(run(paintWords("out.png", {"--after", "ref2.png@3"})).code, 0);
  const PaintRecipe recipe = parsePaintRecipe(contentOf(folder / "out.recipe.toml"), "x");
  ASSERT_EQ(recipe.references.size(), 2U);
  EXPECT_EQ(recipe.references[1].share, 3);
  expectError(paintWords("b.png", {"--after", "ref2.png@-1"}), 2, "share behind @");
}

TEST_F(Program, NothingIsOverwrittenUnasked) {
  writeContent(folder / "out.png", "mine");
  expectError(paintWords("out.png"), 1, "out.png exists already; add --force");
  EXPECT_EQ(contentOf(folder / "out.png"), "mine");
  writeContent(folder / "new.recipe.toml", "picture = \"new.png\"\n");
  expectError(paintWords("new.png"), 1, "new.recipe.toml exists already");
  // What is another's stays, too.
  writeContent(folder / "new.recipe.toml", "mine");
  EXPECT_EQ(run(paintWords("new.png")).code, 0);
  EXPECT_EQ(contentOf(folder / "new.recipe.toml"), "mine");
  EXPECT_TRUE(fs::exists(folder / "new.png.recipe.toml"));
  EXPECT_EQ(run(paintWords("out.png", {"--force"})).code, 0);
  EXPECT_EQ(readPicture(folder / "out.png").image.width, 60);
}

TEST_F(Program, WhatAppearsDuringThePaintingIsNotReplaced) {
  const testing_support::TemporaryFolder logs;
  testing_support::Running program({"paint", "photo.png", "--after", "ref.png", "-o", "out.png", "--levels",
                                    "2", "--steps", "3,60", "--snapshots", "1"},
                                   folder.path, logs.path, {});
  while (!fs::exists(folder / "out.step-00001.png")) {
    ASSERT_FALSE(program.ended());
    usleep(2000);
  }
  writeContent(folder / "out.png", "another's");
  program.wait();
  EXPECT_EQ(contentOf(folder / "out.png"), "another's");
  EXPECT_EQ(readPicture(folder / "out-2.png").image.width, 60);
  EXPECT_TRUE(fs::exists(folder / "out-2.recipe.toml"));
  EXPECT_FALSE(fs::exists(folder / "out.recipe.toml"));
  EXPECT_NE(contentOf(logs / "err").find("the result goes to out-2.png"), std::string::npos);
  EXPECT_NE(contentOf(logs / "out").find("out-2.png: 60x44"), std::string::npos);
}

TEST_F(Program, DryRunTellsAndWritesNothing) {
  const RunResult r = run(paintWords("out.png", {"--dry-run"}));
  EXPECT_EQ(r.code, 0) << r.err;
  for (const char* part :
       {"memory: about", "time: about", "level 2: 60x44, 4 steps", "steps 3,4", "would write out.png"}) {
    EXPECT_NE(r.out.find(part), std::string::npos) << r.out;
  }
  const RunResult enlarged = run(paintWords("out.png", {"--dry-run", "--working-edge", "40"}));
  EXPECT_NE(enlarged.out.find("level 2: 40x29, 4 steps\n  level 3: 60x44, brush-work"), std::string::npos)
      << enlarged.out;
  EXPECT_EQ(filesIn(folder.path).size(), 2U);
}

TEST_F(Program, UsageErrorsExitWithTwo) {
  expectError({"pant"}, 2, "did you mean \"paint\"?");
  expectError(paintWords("out.png", {"--likness", "3"}), 2, "did you mean --likeness?");
  expectError(paintWords("out.png", {"--likeness", "300"}), 2,
              "--likeness is a number from 0 to 100, not \"300\"");
  expectError(paintWords("out.png", {"--likeness"}), 2, "needs a value");
  expectError({"paint"}, 2, "needs a photo");
  expectError({"paint", "photo.png", "-o", "a.png"}, 2, "add --after REF");
  expectError({"paint", "photo.png", "--after", "ref.png"}, 2, "add -o OUT.png");
  expectError({"paint", "photo.png", "other.png", "--after", "ref.png", "-o", "a.png"}, 2, "need a folder");
  expectError(paintWords("out.bmpx"), 2, "end its name in .png");
  expectError(paintWords("out.png", {"--emphasis", "middle=1"}), 2, "style bands are fine, small");
  expectError(paintWords("out.png", {"--progress", "loud"}), 2, "--progress is auto");
  expectError({"redo"}, 2, "needs a recipe");
  writeContent(folder / "bad.toml", "[settings]\nlikness = 3\n");
  expectError({"redo", "bad.toml"}, 2, "line 2, column 1");
}

TEST_F(Program, ASwitchNeverTakesTheNextWord) {
  for (const char* name : {"--proof", "--finish", "--brushwork"}) {
    const RunResult r = run({"paint", name, "photo.png", "--after", "ref.png", "-o", "out.png", "--dry-run"});
    EXPECT_EQ(r.code, 0) << name << ": " << r.err;
    EXPECT_NE(r.out.find("  photo photo.png\n"), std::string::npos) << r.out;
    const std::string is = std::string(name).substr(2) + " yes";
    EXPECT_EQ(r.out.find(is) != std::string::npos, is != "brushwork yes") << "which is usual: " << r.out;
  }
  EXPECT_NE(run(paintWords("out.png", {"--brushwork=off", "--dry-run"})).out.find("brushwork no"),
            std::string::npos);
  expectError(paintWords("out.png", {"--finish=soon"}), 2, "--finish is yes or no, not \"soon\"");
  expectError(paintWords("out.png", {"--finish", "no"}), 2, "takes its value behind \"=\": --finish=no");
  // A photo may be called like that.
  writePicture(folder / "no.png", sample(60, 44), Depth::eight);
  std::filesystem::rename(folder / "no.png", folder / "no");
  EXPECT_EQ(run({"paint", "--proof", "no", "--after", "ref.png", "-o", "out.png", "--dry-run"}).code, 0);
}

TEST_F(Program, BadFilesExitWithOne) {
  expectError({"paint", "none.png", "--after", "ref.png", "-o", "a.png"}, 1, "none.png: no such file");
  expectError({"paint", "photo.png", "--after", "none.png", "-o", "a.png"}, 1, "none.png: no such file");
  expectError(paintWords("missing/out.png"), 1, "there is no folder missing");
  expectError({"redo", "none.toml"}, 1, "none.toml: no such file");
  const std::string whole = contentOf(folder / "photo.png");
  writeContent(folder / "photo.png", whole.substr(0, whole.size() / 2));
  expectError(paintWords("out.png"), 1, "truncated");
  writePicture(folder / "photo.png", sample(12, 60), Depth::eight);
  expectError(paintWords("out.png"), 1, "12x60");
  expectError(paintWords("out.png", {"--network", "ref.png"}), 1, "not an ONNX network");
}

// A painting stopped on its way.
class StoppedPainting : public Program {
 protected:
  void stop(const std::string& output, const std::vector<std::string>& more = {}) const {
    const RunResult stopped =
        testing_support::runAndSignal(words(output, more), folder.path, "step 1 of", SIGINT);
    ASSERT_EQ(stopped.code, 130) << stopped.out << stopped.err;
    EXPECT_NE(stopped.out.find("unfinished\nto go on from there: jugendstil redo out.recipe.toml\n"),
              std::string::npos)
        << stopped.out;
  }
  static std::vector<std::string> words(const std::string& output,
                                        const std::vector<std::string>& more = {}) {
    std::vector<std::string> all{"paint",    "photo.png", "--after", "ref.png", "-o",         output,
                                 "--levels", "2",         "--steps", "3,30",    "--progress", "lines"};
    all.insert(all.end(), more.begin(), more.end());
    return all;
  }
  void expectWhole(const RunResult& r) const {
    EXPECT_EQ(r.code, 0) << r.err;
    EXPECT_NE(r.err.find("going on from level "), std::string::npos) << r.err;
    ASSERT_EQ(run(words("whole.png", {"-q"})).code, 0);
    EXPECT_EQ(contentOf(folder / "out.png"), contentOf(folder / "whole.png"));
    EXPECT_FALSE(fs::exists(folder / "out.png.unfinished"));
  }
};

TEST_F(StoppedPainting, RedoGoesOnWhereItStood) {
  stop("out.png");
  EXPECT_EQ(readPicture(folder / "out.png").image.width, 60);
  EXPECT_FALSE(parsePaintRecipe(contentOf(folder / "out.recipe.toml"), "x").result->finished);
  EXPECT_NE(run({"redo", "out.recipe.toml", "--dry-run"}).out.find("would go on from out.png.unfinished"),
            std::string::npos);
  expectWhole(run({"redo", "out.recipe.toml", "--progress", "lines"}));
  EXPECT_TRUE(parsePaintRecipe(contentOf(folder / "out.recipe.toml"), "x").result->finished);
}

TEST_F(StoppedPainting, TheSameCommandGoesOnAsWell) {
  stop("out.png");
  // As after a crash: the state and the recipe lie there, no picture.
  fs::remove(folder / "out.png");
  expectWhole(run(words("out.png")));
}

TEST_F(StoppedPainting, WhatOnlyComesAfterwardsMayChange) {
  stop("out.png", {"--chart", "loss.png", "--snapshots", "30"});
  const RunResult r = run({"redo", "out.recipe.toml", "--opacity", "0", "--chart", "loss.png"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_LT(testing_support::distance(readPicture(folder / "out.png").image,
                                      readPicture(folder / "photo.png").image),
            1e-5);
  EXPECT_TRUE(fs::exists(folder / "loss.png"));
  EXPECT_TRUE(fs::exists(folder / "out.steps.png"));
}

TEST_F(StoppedPainting, UnderANameTakenMeanwhileItGoesOnUnderTheNewOne) {
  const auto taken = [&] {
    if (!fs::exists(folder / "out.step-00001.png")) return false;
    writeContent(folder / "out.png", "another's");
    return true;
  };
  const RunResult stopped =
      testing_support::runAndSignalWhen(words("out.png", {"--snapshots", "1"}), folder.path, taken, SIGINT);
  ASSERT_EQ(stopped.code, 130) << stopped.out << stopped.err;
  for (const char* left : {"out.recipe.toml", "out.png.unfinished"}) EXPECT_FALSE(fs::exists(folder / left));
  const RunResult r = run({"redo", "out-2.recipe.toml", "--progress", "lines"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.err.find("going on from level "), std::string::npos) << r.err;
  EXPECT_FALSE(fs::exists(folder / "out-2.png.unfinished"));
  EXPECT_EQ(contentOf(folder / "out.png"), "another's");
}

TEST_F(StoppedPainting, WithOtherSettingsItIsAnotherPainting) {
  stop("out.png");
  const std::string state = contentOf(folder / "out.png.unfinished");
  const RunResult r = run({"redo", "out.recipe.toml", "--steps", "3,4", "-q"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_TRUE(fs::exists(folder / "out-again.png"));
  EXPECT_EQ(contentOf(folder / "out.png.unfinished"), state);
  expectError(paintWords("out.png"), 1, "is a painting that was stopped, with other inputs or settings");
  EXPECT_EQ(run(paintWords("out.png", {"--force"})).code, 0);
  EXPECT_FALSE(fs::exists(folder / "out.png.unfinished"));
  // A state that is damaged is no state.
  writeContent(folder / "new.png.unfinished", state.substr(0, 1000));
  expectError(paintWords("new.png"), 1, "new.png.unfinished");
}

TEST_F(Program, KilledItLeavesNothingUnderTheFinalName) {
  testing_support::runAndSignal({"paint", "photo.png", "--after", "ref.png", "-o", "out.png", "--steps",
                                 "100000", "--progress", "lines"},
                                folder.path, "step 1 of", SIGKILL);
  EXPECT_EQ(filesIn(folder.path), (std::vector<std::string>{"photo.png", "ref.png"}));
}

TEST_F(Program, JsonProgressIsOneObjectALine) {
  const RunResult r = run(paintWords("out.png", {"--progress", "json"}));
  ASSERT_EQ(r.code, 0);
  std::istringstream lines(r.out);
  std::vector<std::string> events;
  for (std::string line; std::getline(lines, line);)
    events.push_back(nlohmann::json::parse(line).at("event"));
  ASSERT_GE(events.size(), 2U);
  EXPECT_EQ(events.front(), "progress");
  EXPECT_EQ(events.back(), "done");
  EXPECT_TRUE(r.err.empty()) << r.err;
}

TEST_F(Program, QuietSaysOnlyWhereTheFileIs) {
  const RunResult r = run(paintWords("out.png", {"--quiet"}));
  EXPECT_TRUE(r.err.empty()) << r.err;
  EXPECT_EQ(std::count(r.out.begin(), r.out.end(), '\n'), 1);
}

TEST_F(Program, SixteenBitsAndAlphaStay) {
  Image image = sample(48, 40, 1, 4);
  writePicture(folder / "deep.tif", image, Depth::sixteen);
  ASSERT_EQ(run({"paint", "deep.tif", "--after", "ref.png", "-o", "deep_out.tif", "--steps", "2"}).code, 0);
  const Picture out = readPicture(folder / "deep_out.tif");
  EXPECT_EQ(out.depth, Depth::sixteen);
  ASSERT_EQ(out.image.channels, 4);
  EXPECT_NEAR(out.image.at(7, 9, 3), image.at(7, 9, 3), 1e-3F);
}

TEST_F(Program, SnapshotsAndStart) {
  ASSERT_EQ(run(paintWords("out.png", {"--snapshots", "3", "--start", "ref.png"})).code, 0);
  const auto files = filesIn(folder.path);
  EXPECT_NE(std::find(files.begin(), files.end(), "out.step-00003.png"), files.end());
  EXPECT_NE(std::find(files.begin(), files.end(), "out.step-00006.png"), files.end());
  const PaintRecipe recipe =
      parsePaintRecipe(contentOf(folder / "out.recipe.toml"), folder / "out.recipe.toml");
  EXPECT_EQ(recipe.start->path.filename(), "ref.png");
  EXPECT_EQ(run({"redo", "out.recipe.toml", "--snapshots", "0"}).code, 0);
  EXPECT_EQ(contentOf(folder / "out.png"), contentOf(folder / "out-again.png"));
}

}  // namespace
}  // namespace jugendstil
