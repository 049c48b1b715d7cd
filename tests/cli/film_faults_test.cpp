// SPDX-License-Identifier: Apache-2.0
// Films that are stopped, damaged and made twice at once.
#include <gtest/gtest.h>

#include <csignal>
#include <fstream>

#include "base/folder_lock.h"
#include "clip/clip.h"
#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::runProgram;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

using Words = std::vector<std::string>;

class FilmFaults : public testing::Test {
 protected:
  void SetUp() override {
    testing_support::ClipRecipe recipe;
    recipe.frames = 6;
    recipe.sound = true;
    testing_support::writeClip(folder / "clip.mkv", recipe, testing_support::gliding(64, 48, 1, 0));
    writePicture(folder / "ref.png", sample(70, 60, 5), Depth::eight);
  }

  static Words film(const std::string& output, const Words& more = {}) {
    Words words{"film", "clip.mkv", "--after", "ref.png",       "-o", output,           "--levels",
                "1",    "--steps",  "2",       "--frame-steps", "1",  "--brushwork=no", "-q"};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }

  RunResult run(const Words& words, const Words& environment = {}) const {
    return runProgram(words, folder.path, {"", "", 0, environment});
  }

  // Stops a film as soon as a file is there.
  void stopAt(const Words& words, const std::string& file) const {
    const RunResult r = testing_support::runAndSignalWhen(
        words, folder.path, [&] { return fs::exists(folder / file); }, SIGINT);
    ASSERT_EQ(r.code, 130) << r.err;
  }

  std::string wholeFilm() const {
    EXPECT_EQ(run(film("whole.mkv")).code, 0);
    return contentOf(folder / "whole.mkv");
  }

  TemporaryFolder folder;
};

TEST_F(FilmFaults, NumberedFramesGoOnAfterAStop) {
  testing_support::ClipRecipe recipe;
  recipe.width = 200;
  recipe.height = 150;
  recipe.frames = 8;
  testing_support::writeClip(folder / "clip.mkv", recipe, testing_support::gliding(200, 150, 2, 0));
  ASSERT_EQ(run(film("whole_%02d.png")).code, 0);
  stopAt(film("fr_%02d.png"), "fr_00.png");
  ASSERT_FALSE(fs::exists(folder / "fr_07.png"));
  const RunResult r = run(film("fr_%02d.png"));
  EXPECT_EQ(r.code, 0) << r.err;
  for (int i = 0; i < 8; ++i) {
    const auto name = [&](const char* pattern) { return folder / frameName(pattern, i); };
    EXPECT_EQ(contentOf(name("fr_%02d.png")), contentOf(name("whole_%02d.png"))) << i;
  }
  // Frames of another film are in the way.
  fs::remove(folder / "fr.recipe.toml");
  testing_support::expectError(film("fr_%02d.png", {"--seed", "2"}), folder.path, 1, "exists already");
}

TEST_F(FilmFaults, FramesThatWereLostArePaintedAgain) {
  wholeFilm();
  stopAt(film("out.mkv"), "out.mkv.work/painted_000004.png");
  const fs::path work = folder / "out.mkv.work";
  fs::remove(work / "painted_000001.png");
  const std::string third = contentOf(work / "painted_000002.png");
  writeContent(work / "painted_000002.png", third.substr(0, third.size() / 2));
  const RunResult r = run(film("out.mkv"));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(openClip((folder / "out.mkv").string())->info().times.size(), 6U);
  Image made;
  Image wanted;
  // As good as the ones that were lost: the margins that they were painted with are gone.
  const auto out = openClip((folder / "out.mkv").string());
  const auto whole = openClip((folder / "whole.mkv").string());
  for (int i = 0; i < 6; ++i) {
    ASSERT_EQ(out->read(made), FrameState::read);
    ASSERT_EQ(whole->read(wanted), FrameState::read);
    EXPECT_LT(testing_support::distance(made, wanted), 1e-3) << i;
  }
}

TEST_F(FilmFaults, LinesThatAreNoRecordsArePassedOver) {
  const std::string whole = wholeFilm();
  stopAt(film("out.mkv"), "out.mkv.work/painted_000003.png");
  const fs::path journal = folder / "out.mkv.work" / "journal.jsonl";
  const std::string text = contentOf(journal);
  const auto second = text.find('\n', text.find('\n') + 1) + 1;
  writeContent(journal, text.substr(0, second) + "null\n3\n{}\n\n[1,2]\n{\"frame\":\"x\"}\n" +
                            text.substr(second) + "{\"frame\":5,");
  const RunResult r = run(film("out.mkv"));
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(contentOf(folder / "out.mkv"), whole);
}

TEST_F(FilmFaults, AJournalOfNothingIsSaidToBeAnothers) {
  for (const char* head : {"null\n", "3\n{}\n", "{}\n"}) {
    fs::create_directories(folder / "out.mkv.work");
    writeContent(folder / "out.mkv.work" / "journal.jsonl", head);
    testing_support::expectError(film("out.mkv"), folder.path, 1, "other inputs or settings");
  }
  EXPECT_EQ(run(film("out.mkv", {"--force"})).code, 0);
}

TEST_F(FilmFaults, TwoRunsDoNotWorkInOneFolder) {
  const std::string whole = wholeFilm();
  {
    const FolderLock first(folder / "out.mkv.work");
    for (const Words& more : {Words{}, Words{"--force", "--seed", "3"}})
      testing_support::expectError(film("out.mkv", more), folder.path, 1,
                                   "another run is at work in out.mkv.work");
  }
  EXPECT_EQ(run(film("out.mkv")).code, 0);
  EXPECT_EQ(contentOf(folder / "out.mkv"), whole);
}

// Whichever reading of a file fails: it ends the film with the reason, and never makes another one.
TEST_F(FilmFaults, AFailingDiskIsNoFailedFrameAndNoEnd) {
  const std::string whole = wholeFilm();
  int told = 0;
  struct Reading {
    const char* file;
    int openings;
    int after;  // so many reads
    int step;   // each whole film takes a second or more, so of many openings not all
  };
  for (const Reading& reading :
       {Reading{"painted_000000.png", 5, 0, 2}, {"canvas_000000.png", 4, 0, 1}, {"clip.mkv", 10, 1, 3}}) {
    for (int open = 1; open <= reading.openings; open += reading.step) {
      const RunResult r =
          run(film("out.mkv"), testing_support::failingReads(reading.file, open, reading.after));
      if (r.code == 0) {
        EXPECT_EQ(contentOf(folder / "out.mkv"), whole) << reading.file << ", opening " << open;
        for (const char* name : {"out.mkv", "out.recipe.toml"}) fs::remove(folder / name);
        continue;
      }
      ++told;
      EXPECT_EQ(r.code, 1) << r.err;
      EXPECT_NE(r.err.find("Input/output error"), std::string::npos) << reading.file << ": " << r.err;
      EXPECT_FALSE(fs::exists(folder / "out.mkv"));
    }
  }
  EXPECT_GE(told, 5);
  EXPECT_EQ(run(film("out.mkv", {"--force"})).code, 0);
  EXPECT_EQ(contentOf(folder / "out.mkv"), whole);
}

TEST_F(FilmFaults, AFullDiskIsToldAndTheRestFollows) {
  const std::string whole = wholeFilm();
  for (const std::uint64_t bytes : {std::uint64_t{2000}, static_cast<std::uint64_t>(whole.size()) / 2,
                                    static_cast<std::uint64_t>(whole.size()) - 1}) {
    const RunResult r = runProgram(film("out.mkv"), folder.path, {"", "", bytes, {}});
    EXPECT_EQ(r.code, 1) << bytes << r.err;
    EXPECT_NE(r.err.find("File too large"), std::string::npos) << r.err;
    EXPECT_EQ(std::count(r.err.begin(), r.err.end(), '\n'), 1) << r.err;
    EXPECT_FALSE(fs::exists(folder / "out.mkv"));
    for (const auto& entry : fs::recursive_directory_iterator(folder.path))
      EXPECT_EQ(entry.path().string().find(".part"), std::string::npos) << entry.path();
  }
  EXPECT_EQ(run(film("out.mkv")).code, 0);
  EXPECT_EQ(contentOf(folder / "out.mkv"), whole);
}

}  // namespace
}  // namespace jugendstil
