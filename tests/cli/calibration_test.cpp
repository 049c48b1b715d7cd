// SPDX-License-Identifier: Apache-2.0
#include "cli/calibration.h"

#include <gtest/gtest.h>

#include <cstdlib>

#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil::cli {
namespace {

using testing_support::contentOf;
using testing_support::sample;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

// An environment variable for as long as it lives.
class Variable {
 public:
  Variable(const char* name, const std::string& value) : name_(name) {
    if (const char* before = std::getenv(name)) before_ = before;
    setenv(name, value.c_str(), 1);
  }
  ~Variable() {
    if (before_)
      setenv(name_, before_->c_str(), 1);
    else
      unsetenv(name_);
  }
  Variable(const Variable&) = delete;
  Variable& operator=(const Variable&) = delete;

 private:
  const char* name_;
  std::optional<std::string> before_;
};

TEST(Calibration, LiesWhereTheSpecificationSays) {
  const Variable home("HOME", "/home/painter");
  {
    const Variable cache("XDG_CACHE_HOME", "/var/tmp/cache");
    EXPECT_EQ(calibrationFile(), "/var/tmp/cache/jugendstil/calibration.json");
  }
  const Variable relative("XDG_CACHE_HOME", "not/absolute");
  EXPECT_EQ(calibrationFile(), "/home/painter/.cache/jugendstil/calibration.json");
}

TEST(Calibration, RemembersAndMixes) {
  const TemporaryFolder folder;
  const auto file = folder / "new/calibration.json";
  EXPECT_FALSE(knownRate(file, "a").has_value());
  learnRate(file, "a", 2, 100);
  keepRate(file, "b", 7);
  EXPECT_EQ(*knownRate(file, "a"), 2);
  learnRate(file, "a", 4, 100);
  EXPECT_EQ(*knownRate(file, "a"), 3);
  EXPECT_EQ(*knownRate(file, "b"), 7);
}

// A draft of a second takes several times as long for its work as a whole painting.
TEST(Calibration, ShortPaintingsTellLittle) {
  const TemporaryFolder folder;
  const auto file = folder / "calibration.json";
  learnRate(file, "a", 9, 1);
  EXPECT_FALSE(knownRate(file, "a").has_value());
  keepRate(file, "a", 2);
  learnRate(file, "a", 10, 1);
  EXPECT_GT(*knownRate(file, "a"), 2);
  EXPECT_LT(*knownRate(file, "a"), 2.5);
}

TEST(Calibration, ADamagedFileKnowsNothingAndIsReplaced) {
  const TemporaryFolder folder;
  const auto file = folder / "calibration.json";
  for (const char* damaged : {"", "{\"a\": ", "[1, 2]", "{\"a\": \"fast\"}", "{\"a\": -1}"}) {
    writeContent(file, damaged);
    EXPECT_FALSE(knownRate(file, "a").has_value()) << damaged;
    keepRate(file, "a", 5);
    EXPECT_EQ(*knownRate(file, "a"), 5) << damaged;
  }
}

TEST(Calibration, OtherSettingsAreOtherSpeeds) {
  PaintSettings settings;
  const std::string usual = calibrationKey(settings, "abc");
  EXPECT_EQ(usual, calibrationKey(settings, "abc"));
  EXPECT_NE(usual, calibrationKey(settings, "abd"));
  settings.likeness = 80;
  EXPECT_EQ(usual, calibrationKey(settings, "abc"));
  settings.measure = MeasureKind::sliced;
  EXPECT_NE(usual, calibrationKey(settings, "abc"));
}

TEST(Calibration, DryRunsForetellFromPaintingsMadeBefore) {
  const TemporaryFolder folder;
  const Variable cache("XDG_CACHE_HOME", (folder / "cache").string());
  writePicture(folder / "a.png", sample(64, 48, 1), Depth::eight);
  writePicture(folder / "b.png", sample(64, 48, 2), Depth::eight);
  const auto run = [&](std::vector<std::string> more) {
    std::vector<std::string> words{"paint", "a.png",   "-a", "b.png",    "-o",
                                   "o.png", "--steps", "4",  "--levels", "1"};
    words.insert(words.end(), more.begin(), more.end());
    return testing_support::runProgram(words, folder.path);
  };
  const auto first = run({"--dry-run"});
  EXPECT_NE(first.out.find("(from a short trial)"), std::string::npos) << first.out << first.err;
  const std::string learnt = contentOf(folder / "cache/jugendstil/calibration.json");
  EXPECT_NE(learnt.find("gram"), std::string::npos);
  EXPECT_EQ(run({}).code, 0);
  EXPECT_NE(contentOf(folder / "cache/jugendstil/calibration.json"), learnt);
  EXPECT_NE(run({"--dry-run", "--force"}).out.find("(from earlier work on this machine)"), std::string::npos);
}

TEST(Calibration, DryRunsForetellFilmsByThoseMadeBefore) {
  const TemporaryFolder folder;
  const Variable cache("XDG_CACHE_HOME", (folder / "cache").string());
  testing_support::writeClip(folder / "clip.mkv", {}, testing_support::gliding(64, 48, 1, 0));
  writePicture(folder / "b.png", sample(64, 48, 2), Depth::eight);
  const auto foretold = [&](std::vector<std::string> more) {
    std::vector<std::string> words{"film", "clip.mkv", "-a", "b.png", "-o", "o.mkv", "--dry-run"};
    words.insert(words.end(), more.begin(), more.end());
    return testing_support::runProgram(words, folder.path).out;
  };
  const auto file = folder / "cache/jugendstil/calibration.json";
  EXPECT_NE(foretold({"--grade"}).find("(from a short trial)"), std::string::npos);
  EXPECT_NE(foretold({"--grade"}).find("(from earlier work on this machine)"), std::string::npos);
  // Six frames of 64 x 48 at a second for each pixel.
  keepRate(file, gradeCalibrationKey(0) + " | film of about 64 pixels a side", 1);
  EXPECT_NE(foretold({"--grade"}).find("time: about 5 h 07 min (from earlier work"), std::string::npos);
  std::filesystem::remove(file);
  keepRate(file, gradeCalibrationKey(0) + " | film of about 16 pixels a side", 1);
  EXPECT_NE(foretold({"--grade"}).find("(from a short trial)"), std::string::npos)
      << "much smaller frames tell nothing";
  const std::vector<std::string> few{"--levels", "1", "--steps", "4", "--frame-steps", "2"};
  EXPECT_NE(foretold(few).find("(from a short trial)"), std::string::npos);
  EXPECT_NE(foretold(few).find("(from earlier work on this machine)"), std::string::npos);
  EXPECT_FALSE(std::filesystem::exists(folder / "o.mkv"));
}

TEST(Proof, IsTheWholeWithoutItsLastLevel) {
  const TemporaryFolder folder;
  const Variable cache("XDG_CACHE_HOME", (folder / "cache").string());
  writePicture(folder / "a.png", sample(64, 48, 1), Depth::eight);
  writePicture(folder / "b.png", sample(64, 48, 2), Depth::eight);
  const auto run = [&](const std::vector<std::string>& words) {
    const auto r = testing_support::runProgram(words, folder.path);
    EXPECT_EQ(r.code, 0) << r.err;
    return r;
  };
  const auto proof = run({"paint", "a.png", "-a", "b.png", "-o", "p.png", "--steps", "3,4", "--levels", "2",
                          "--long-edge", "300", "--proof"});
  EXPECT_EQ(readPicture(folder / "p.png").image.width, 192);
  EXPECT_NE(proof.out.find("redo p.recipe.toml --proof=no -o OUT"), std::string::npos) << proof.out;
  run({"redo", "p.recipe.toml", "-o", "again.png"});
  EXPECT_EQ(contentOf(folder / "again.png"), contentOf(folder / "p.png"));
  run({"redo", "p.recipe.toml", "--proof=no", "-o", "whole.png"});
  EXPECT_EQ(readPicture(folder / "whole.png").image.width, 300);
}

}  // namespace
}  // namespace jugendstil::cli
