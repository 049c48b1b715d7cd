// SPDX-License-Identifier: Apache-2.0
// The built program of which one call of the system fails: the first write, the second, ... until a run comes
// to its end without. Nothing is lost, nothing half written, and it says so in one line. `./do faults` (by
// JUGENDSTIL_EVERY_FAULT) tries each number, and paintings and films too; without it there are ever fewer of
// the later ones.
#include <gtest/gtest.h>

#include <cstdlib>
#include <filesystem>
#include <map>
#include <sstream>

#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::failingCall;
using testing_support::runProgram;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

using Words = std::vector<std::string>;

struct Case {
  const char* name;
  Words words;
  std::vector<std::string> outputs;
  bool goesOn;  // what a run that failed had done is kept
};

const std::vector<Case>& cases() {
  static const std::vector<Case> all{
      {"grade", {"grade", "photo.png", "--after", "ref.png", "-q", "-o", "out.png"}, {"out.png"}, false},
      {"mask", {"mask", "photo.png", "--drawing", "drawn.svg", "-o", "out.png"}, {"out.png"}, false},
      {"look", {"look", "a.look.toml", "-q", "-o", "out.look.toml"}, {"out.look.toml"}, false},
      {"paint",
       {"paint", "photo.png", "--after", "ref.png", "--levels", "2", "--steps", "2,2", "-q", "-o", "out.png"},
       {"out.png"},
       true},
      {"film",
       {"film", "clip.mkv", "--after", "ref.png", "--levels", "1", "--steps", "2", "-q", "-o", "out.mkv"},
       {"out.mkv"},
       true}};
  return all;
}

class Injected : public testing::TestWithParam<Case> {
 protected:
  void SetUp() override {
    if (!every && GetParam().goesOn) GTEST_SKIP() << "paintings and films take long: ./do faults";
    writePicture(folder / "photo.png", sample(72, 48), Depth::eight);
    writePicture(folder / "ref.png", sample(60, 56, 5), Depth::eight);
    writeContent(
        folder / "drawn.svg",
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 72 48'><circle cx='20' cy='20' r='9'/></svg>");
    testing_support::ClipRecipe clip;
    clip.frames = 3;
    testing_support::writeClip(folder / "clip.mkv", clip, testing_support::gliding(64, 48, 2, 1));
    ASSERT_EQ(run({"grade", "photo.png", "--after", "ref.png", "-q", "--save-look", "a.look.toml", "-o",
                   "first.png"})
                  .code,
              0);
    for (const char* made : {"first.png", "first.recipe.toml"}) fs::remove(folder / made);
    inputs = contents();
    ASSERT_EQ(run(GetParam().words).code, 0);
    for (const std::string& output : GetParam().outputs) whole[output] = contentOf(folder / output);
    clear();
  }

  RunResult run(const Words& words, const std::vector<std::string>& environment = {}) const {
    return runProgram(words, folder.path, {"", "", 0, environment});
  }

  // Of the files that lie in the folder itself.
  std::map<std::string, std::string> contents() const {
    std::map<std::string, std::string> all;
    for (const auto& entry : fs::directory_iterator(folder.path)) {
      if (entry.is_regular_file()) all[entry.path().filename().string()] = contentOf(entry.path());
    }
    return all;
  }

  void clear() const {
    for (const auto& entry : fs::directory_iterator(folder.path)) {
      if (inputs.count(entry.path().filename().string()) == 0) fs::remove_all(entry.path());
    }
  }

  void expectWhole(const std::string& where) const {
    for (const auto& [output, bytes] : whole)
      EXPECT_EQ(contentOf(folder / output) == bytes, true) << where << output;
  }

  void expectNothingLost(const RunResult& r, const std::string& where) const {
    const auto now = contents();
    for (const auto& [name, bytes] : inputs) {
      ASSERT_EQ(now.count(name), 1U) << where << name;
      EXPECT_EQ(now.at(name) == bytes, true) << where << name;
    }
    for (const auto& [name, bytes] : now) EXPECT_EQ(name.find(".part"), std::string::npos) << where << name;
    if (r.code == 0) return expectWhole(where);
    EXPECT_EQ(r.code, 1) << where << r.err;
    int errors = 0;
    std::istringstream lines(r.err);
    for (std::string line; std::getline(lines, line);) errors += line.rfind("note: ", 0) == 0 ? 0 : 1;
    EXPECT_EQ(errors, 1) << where << r.err;
    EXPECT_EQ(r.err.find("should not have"), std::string::npos) << where << r.err;
    for (const auto& [output, bytes] : whole) {
      EXPECT_TRUE(now.count(output) == 0 || now.at(output) == bytes) << where << output;
    }
    if (GetParam().goesOn) {
      EXPECT_EQ(run(withForce()).code, 0) << where;
      expectWhole(where + "going on, ");
    }
  }

  // What was written in full before something else failed may be there.
  Words withForce() const {
    Words words = GetParam().words;
    if (fs::exists(folder / GetParam().outputs[0])) words.emplace_back("--force");
    return words;
  }

  // How many of the kind there were.
  int tryAll(char kind) {
    const fs::path log = folder / "log";
    int tried = 0;
    for (int number = 1;; number = every ? number + 1 : number * 4 + 1) {
      const RunResult r = run(GetParam().words, failingCall(kind, number, log));
      const bool came = fs::remove(log);
      const std::string where = std::string(1, kind) + " " + std::to_string(number) + ": ";
      if (!came) {
        EXPECT_EQ(r.code, 0) << where << r.err;
        return tried;
      }
      ++tried;
      expectNothingLost(r, where);
      clear();
      if (HasFailure()) return tried;
    }
  }

  const bool every = std::getenv("JUGENDSTIL_EVERY_FAULT") != nullptr;
  TemporaryFolder folder;
  std::map<std::string, std::string> inputs;
  std::map<std::string, std::string> whole;
};

TEST_P(Injected, Writes) { EXPECT_GT(tryAll('w'), 0); }
TEST_P(Injected, AllWritesFromOneOn) { EXPECT_GT(tryAll('W'), 0); }
TEST_P(Injected, Syncs) { EXPECT_GT(tryAll('s'), 0); }
TEST_P(Injected, Renames) { EXPECT_GT(tryAll('r'), 0); }

#ifndef JUGENDSTIL_SANITIZED

TEST_P(Injected, Allocations) { EXPECT_GT(tryAll('a'), 0); }
TEST_P(Injected, Threads) { tryAll('t'); }
TEST_P(Injected, AllThreadsFromOneOn) { tryAll('T'); }

#endif

INSTANTIATE_TEST_SUITE_P(Of, Injected, testing::ValuesIn(cases()),
                         [](const auto& about) { return std::string(about.param.name); });

}  // namespace
}  // namespace jugendstil
