// SPDX-License-Identifier: Apache-2.0
// The built program where things go wrong around it: streams, signals, names, full and failing disks.
#include <gtest/gtest.h>

#include <algorithm>
#include <csignal>
#include <nlohmann/json.hpp>
#include <sstream>

#include "image/picture_file.h"
#include "paint/recipe.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::expectError;
using testing_support::filesIn;
using testing_support::runProgram;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::Surroundings;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

using Words = std::vector<std::string>;

class Faults : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "photo.png", sample(90, 64), Depth::eight);
    writePicture(folder / "ref.png", sample(70, 60, 5), Depth::eight);
  }

  static Words paint(const std::string& output, const Words& more = {}, const std::string& steps = "3,4") {
    Words words{"paint", "photo.png", "--after", "ref.png", "-o", output, "--levels", "2", "--steps", steps};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }

  RunResult run(const Words& words, const Surroundings& around = {}) const {
    return runProgram(words, folder.path, around);
  }

  TemporaryFolder folder;
};

// --- Messages that cannot be printed.

TEST_F(Faults, APaintingDoesNotHangOnStandardError) {
  ASSERT_EQ(run(paint("a.png", {"--progress", "lines"})).code, 0);
  for (const char* err : {"closed", "/dev/full"}) {
    const RunResult r = run(paint("b.png", {"--progress", "lines"}), {"", err, 0, {}});
    EXPECT_EQ(r.code, 0) << err;
    EXPECT_NE(r.out.find("b.png: 90x64, painted in"), std::string::npos) << r.out;
    EXPECT_EQ(contentOf(folder / "b.png"), contentOf(folder / "a.png")) << err;
    fs::remove(folder / "b.png");
    fs::remove(folder / "b.recipe.toml");
  }
}

TEST_F(Faults, WhatStandardOutputCouldNotTakeIsTold) {
  const RunResult r = run(paint("a.png", {"-q"}), {"/dev/full", "", 0, {}});
  EXPECT_EQ(r.code, 1);
  EXPECT_EQ(r.err,
            "jugendstil: standard output could not take all that was told there; files are as they "
            "should be\n");
  EXPECT_EQ(readPicture(folder / "a.png").image.width, 90);
  EXPECT_EQ(run(paint("b.png", {"-q"}), {"closed", "", 0, {}}).code, 0);
  EXPECT_EQ(contentOf(folder / "b.png"), contentOf(folder / "a.png"));
}

TEST_F(Faults, ErrorsAreOneLineWhateverTheNames) {
  expectError({"paint", "new\nline\x1B[31m.png", "--after", "ref.png", "-o", "a.png"}, folder.path, 1,
              "new line [31m.png: no such file");
}

// --- Signals.

TEST_F(Faults, AClosedTerminalEndsLikeCtrlC) {
  for (const int signal : {SIGINT, SIGTERM, SIGHUP}) {
    const RunResult r = testing_support::runAndSignal(paint("a.png", {"--progress", "lines"}, "3,100000"),
                                                      folder.path, "step 1 of", signal);
    EXPECT_EQ(r.code, 130) << signal << ": " << r.err;
    EXPECT_EQ(readPicture(folder / "a.png").image.width, 90);
    EXPECT_FALSE(parsePaintRecipe(contentOf(folder / "a.recipe.toml"), "x").result->finished);
    EXPECT_EQ(filesIn(folder.path),
              (Words{"a.png", "a.png.unfinished", "a.recipe.toml", "photo.png", "ref.png"}))
        << signal;
    fs::remove(folder / "a.png.unfinished");
    fs::remove(folder / "a.png");
    fs::remove(folder / "a.recipe.toml");
  }
}

// As timeout(1) sends it, to the process and to its group.
TEST_F(Faults, TwoSignalsAtOnceAreOne) {
  const std::string command =
      "cd " + folder.path.string() + " && timeout -s INT 4 " + testing_support::programPath() +
      " paint photo.png --after ref.png -o a.png --levels 2 --steps 3,100000 -q > said";
  EXPECT_NE(std::system(command.c_str()), 0);
  EXPECT_NE(contentOf(folder / "said").find("to go on from there: jugendstil redo a.recipe.toml"),
            std::string::npos);
  EXPECT_TRUE(fs::exists(folder / "a.png.unfinished"));
}

TEST_F(Faults, APipeThatNobodyReadsEndsLikeCtrlC) {
  const std::string command = "cd " + folder.path.string() + " && { " + testing_support::programPath() +
                              " paint photo.png --after ref.png -o a.png --levels 2 --steps 3,100000 "
                              "--progress json; echo $? > code; } | head -1 > first";
  ASSERT_EQ(std::system(command.c_str()), 0);
  EXPECT_EQ(contentOf(folder / "code"), "130\n");
  EXPECT_EQ(nlohmann::json::parse(contentOf(folder / "first")).at("event"), "progress");
  EXPECT_EQ(readPicture(folder / "a.png").image.width, 90);
  EXPECT_EQ(filesIn(folder.path),
            (Words{"a.png", "a.png.unfinished", "a.recipe.toml", "code", "first", "photo.png", "ref.png"}));
}

TEST_F(Faults, WhoeverReadsTheFirstLinesOfAListHasNoError) {
  ASSERT_EQ(run(paint("a.png", {"-q"})).code, 0);
  const std::string command = "cd " + folder.path.string() + " && { " + testing_support::programPath() +
                              " history . 2> err; echo $? > code; } | head -c 1 > first";
  ASSERT_EQ(std::system(command.c_str()), 0);
  EXPECT_EQ(contentOf(folder / "code"), "0\n");
  EXPECT_EQ(contentOf(folder / "err"), "");
}

// --- Names.

TEST_F(Faults, EveryNameThatTheSystemTakesWorks) {
  const Words strange{"a?b=1&c.png", "\xFF\xFE.png", "tab\tand\nline 100% 'q' \"q\".png",
                      "%d.png",      "-dash.png",    std::string(240, 'n') + ".png"};
  for (const std::string& name : strange) {
    const TemporaryFolder own;
    fs::copy(folder / "photo.png", own / name);
    fs::copy(folder / "ref.png", own / ("ref" + name));
    const RunResult painted =
        runProgram({"paint", "./" + name, "--after", "./ref" + name, "-o", "./out" + name, "--steps", "2",
                    "--levels", "1", "--progress", "json"},
                   own.path);
    ASSERT_EQ(painted.code, 0) << name << ": " << painted.err;
    const fs::path recipe = own / fs::path("out" + name).replace_extension(".recipe.toml").string();
    const RunResult again =
        runProgram({"redo", "./" + recipe.filename().string(), "-o", "again.png"}, own.path);
    EXPECT_EQ(again.code, 0) << name << ": " << again.err;
    EXPECT_TRUE(again.err.find("note:") == std::string::npos) << again.err;
    EXPECT_EQ(contentOf(own / "again.png"), contentOf(own / ("out" + name))) << name;
    const auto last = painted.out.rfind('\n', painted.out.size() - 2);
    const auto told = nlohmann::json::parse(painted.out.substr(last == std::string::npos ? 0 : last + 1));
    EXPECT_EQ(told.at("event"), "done");
  }
}

TEST_F(Faults, EveryNameWorksForGradesPagesLooksAndFilms) {
  const std::string odd = "od\xFF?$HOME%";
  fs::copy(folder / "photo.png", folder / (odd + ".png"));
  testing_support::writeClip(folder / (odd + ".mkv"), {}, testing_support::gliding(64, 48, 1, 0));
  const auto works = [&](const Words& words) {
    const RunResult r = run(words);
    EXPECT_EQ(r.code, 0) << words[0] << ": " << r.err;
  };
  works({"grade", odd + ".png", "--after", "ref.png", "-o", odd + "_g.png", "--save-look", odd + ".look.toml",
         "--chart", odd + "_c.png", "--progress", "json"});
  works({"look", odd + ".look.toml", "-o", odd + ".cube", "-o", odd + ".clf", "-o", odd + "_h.png"});
  works({"grade", odd + ".png", "--look", odd + ".cube", "-o", odd + "_l.tif"});
  works({"mask", odd + ".png", "--tones", "40..100", "-o", odd + "_m.png"});
  works({"compare", odd + ".png", odd + "_g.png", "-o", odd + ".html", "--numbers", "--progress", "json"});
  works({"compare", odd + ".png", odd + "_g.png", "--view", "slide", "-o", odd + ".gif"});
  works({"film", odd + ".mkv", "--after", "ref.png", "--steps", "2", "--levels", "1", "--frame-steps", "1",
         "--frames", "2", "-o", odd + "_f.mkv", "--progress", "json"});
  works({"redo", odd + "_f.recipe.toml", "-o", "again.mkv"});
  EXPECT_EQ(contentOf(folder / "again.mkv"), contentOf(folder / (odd + "_f.mkv")));
}

// --- Full disks.

// Runs a command where files may not grow beyond the first 4 KiB, a half and nearly all of the largest that
// it writes. The writers themselves are tried at every 4 KiB (support/full_disk.h).
class FullDiskProgram : public Faults {
 protected:
  // The last limit is so many bytes less than what is written.
  void expectTold(const Words& words, std::uint64_t less = 1) const {
    SCOPED_TRACE(testing::PrintToString(words));
    const auto before = filesIn(folder.path);
    const TemporaryFolder whole;
    ASSERT_EQ(run(words).code, 0);
    std::uint64_t largest = 0;
    for (const std::string& name : made(before)) {
      fs::copy(folder / name, whole / name);
      largest = std::max<std::uint64_t>(largest, fs::file_size(folder / name));
    }
    clear(before);
    ASSERT_GT(largest, 4096U) << "too small to tell anything";
    for (const std::uint64_t bytes : {std::uint64_t{4096}, largest / 2, largest - less}) {
      const RunResult r = run(words, {"", "", bytes, {}});
      EXPECT_EQ(r.code, 1) << bytes << " of " << largest << ": " << r.err;
      EXPECT_EQ(std::count(r.err.begin(), r.err.end(), '\n'), 1) << r.err;
      EXPECT_EQ(r.err.rfind("jugendstil: ", 0), 0U) << r.err;
      EXPECT_NE(r.err.find("File too large"), std::string::npos) << r.err;
      // What was small enough stands whole.
      for (const std::string& name : made(before))
        EXPECT_EQ(fs::file_size(folder / name), fs::file_size(whole / name)) << name << ", " << bytes;
      clear(before);
    }
  }

 private:
  Words made(const Words& before) const {
    Words names;
    for (const std::string& name : filesIn(folder.path)) {
      if (std::find(before.begin(), before.end(), name) == before.end()) names.push_back(name);
    }
    return names;
  }
  void clear(const Words& before) const {
    for (const std::string& name : made(before)) fs::remove_all(folder / name);
  }
};

TEST_F(FullDiskProgram, OfPaintings) {
  // The others are graded.
  for (const char* name : {"a.png", "a.exr"})
    expectTold(paint(name, {"-q", "--long-edge", "160", "--brushwork=no"}, "1,1"));
  expectTold(paint("a.png", {"-q", "--layers", "a.ora", "--chart", "c.png"}, "1,1"));
}

TEST_F(FullDiskProgram, OfGradesAndLooks) {
  writePicture(folder / "photo.png", sample(200, 160), Depth::eight);
  for (const char* name : {"a.png", "a.jpg", "a.tif", "a.webp", "a.exr"})
    expectTold({"grade", "photo.png", "--after", "ref.png", "-o", name, "-q"});
  expectTold({"grade", "photo.png", "--after", "ref.png", "--save-look", "a.look.toml", "-q"});
  expectTold({"grade", "photo.png", "--after", "ref.png", "-o", "a.jpg", "--chart", "c.png", "-q"});
}

TEST_F(FullDiskProgram, OfComparisons) {
  writePicture(folder / "ref.png", sample(90, 64, 5), Depth::eight);
  for (const Words& more : {Words{"-o", "a.html"}, Words{"--view", "sheet", "-o", "a.png"},
                            Words{"--view", "slide", "-o", "a.gif"}, Words{"--view", "slide", "-o", "a.webm"},
                            Words{"--view", "slide", "-o", "a.mp4"}}) {
    Words words{"compare", "photo.png", "ref.png", "-q"};
    words.insert(words.end(), more.begin(), more.end());
    // Encoders of clips do not promise the same number of bytes each time.
    const bool clip = words.back().ends_with(".webm") || words.back().ends_with(".mp4");
    expectTold(words, clip ? 1000 : 1);
  }
}

// --- Power cuts.

TEST_F(Faults, AFileAndItsFolderAreSafeBeforeItIsTold) {
  const TemporaryFolder logs;
  const RunResult r = run({"mask", "photo.png", "--tones", "0..50", "-o", "m.png"},
                          {"", "", 0, testing_support::notedSyncs(logs / "syncs")});
  ASSERT_EQ(r.code, 0) << r.err;
  std::istringstream lines(contentOf(logs / "syncs"));
  std::string file;
  std::string list;
  std::getline(lines, file);
  std::getline(lines, list);
  EXPECT_NE(file.find(".m."), std::string::npos) << file;
  EXPECT_EQ(list, folder.path.string());
}

}  // namespace
}  // namespace jugendstil
