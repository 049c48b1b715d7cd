// SPDX-License-Identifier: Apache-2.0
// The built program given files that bring libraries down, fill the memory or never end, and things that are
// no files.
#include <gtest/gtest.h>
#include <sys/stat.h>
#include <sys/wait.h>

#include <cstdlib>
#include <filesystem>
#include <utility>

#include "image/picture_file.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::expectError;
using testing_support::runProgram;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::sourceFolder;
using testing_support::TemporaryFolder;

class Hostile : public testing::Test {
 protected:
  void SetUp() override { writePicture(folder / "photo.png", sample(96, 64), Depth::eight); }

  static std::string broken(const std::string& name) { return sourceFolder() / "tests/data/broken" / name; }

  TemporaryFolder folder;
};

TEST_F(Hostile, ProfilesThatBringTheirReaderDown) {
  for (const char* name : {"crash_icc.tif", "crash_icc2.tif"})
    expectError({"mask", broken(name), "--all", "-o", "x.png"}, folder.path, 1,
                std::string(name) + ": is damaged so that its decoder breaks down");
}

TEST_F(Hostile, DrawingsThatBringTheirReaderDownOrNeverEnd) {
  for (const char* name : {"crash_matrix.svg", "crash_text.svg"})
    expectError({"mask", "photo.png", "--drawing", broken(name), "-o", "x.png"}, folder.path, 1,
                std::string(name) + ": is damaged so that its decoder breaks down");
  expectError({"mask", "photo.png", "--drawing", broken("hang_turbulence.svg"), "-o", "x.png"}, folder.path,
              1, "hang_turbulence.svg: is still not read after 5 seconds");
}

TEST_F(Hostile, AFewBytesThatClaimAGigapixel) {
  expectError({"grade", broken("bomb.jpg"), "--after", "photo.png", "-o", "x.jpg"}, folder.path, 1,
              "bomb.jpg: the JPEG says it has more pixels than so short a file can hold");
}

TEST_F(Hostile, PipesAndDevicesAreNoFiles) {
  for (const char* name : {"pipe.png", "pipe.mkv", "pipe.svg", "pipe.onnx", "pipe.toml", "pipe.cube"})
    ASSERT_EQ(mkfifo((folder / name).c_str(), 0600), 0);
  expectError({"mask", "pipe.png", "--all", "-o", "x.png"}, folder.path, 1,
              "pipe.png: is a pipe or a device");
  expectError({"mask", "/dev/zero", "--all", "-o", "x.png"}, folder.path, 1,
              "/dev/zero: is a pipe or a device");
  expectError({"film", "pipe.mkv", "--after", "photo.png", "-o", "x.mkv"}, folder.path, 1, "is a pipe");
  // What is read from its beginning to its end may be a pipe; one into which nobody writes is empty.
  expectError({"mask", "photo.png", "--drawing", "pipe.svg", "-o", "x.png"}, folder.path, 1, "pipe.svg");
  expectError({"network", "pipe.onnx"}, folder.path, 1, "pipe.onnx: is not an ONNX network");
  expectError({"grade", "photo.png", "--look", "pipe.cube", "-o", "x.png"}, folder.path, 1, "pipe.cube");
  expectError({"look", "pipe.toml"}, folder.path, 2, "pipe.toml");
  expectError({"network", "/dev/zero"}, folder.path, 1, "/dev/zero: is a device, not a file");
}

#ifndef JUGENDSTIL_SANITIZED

TEST_F(Hostile, LimitsThatDoNotLetTheProgramBeginAreSaid) {
  const fs::path launcher = fs::path(testing_support::programPath()).parent_path() / "jugendstil";
  const auto run = [&](const std::string& before) {
    const std::string line =
        before + " exec '" + launcher.string() + "' --version >'" + (folder / "said").string() + "' 2>&1";
    const int status = std::system(line.c_str());
    return std::pair{WEXITSTATUS(status), testing_support::contentOf(folder / "said")};
  };
  const auto [code, said] = run("ulimit -v 480000;");
  EXPECT_EQ(code, 1);
  EXPECT_EQ(said,
            "jugendstil: may take no more than 468 MB of memory (ulimit -v) and needs 800 MB to begin; raise "
            "the limit\n");
  const auto [whole, version] = run("");
  EXPECT_EQ(whole, 0);
  EXPECT_EQ(version.rfind("jugendstil 0.", 0), 0U) << version;
}

#endif

TEST_F(Hostile, WhatStandsInFilesIsNotObeyedByTheTerminal) {
  const std::string recipe =
      testing_support::contentOf(sourceFolder() / "fuzz/corpus/recipe/painted.recipe.toml");
  const std::string reference = "'reference.png'";
  const auto at = recipe.find(reference);
  ASSERT_NE(at, std::string::npos);
  const std::string escape = "\"\\u001b]0;window\\u0007\\u009b31m.png\"";
  testing_support::writeContent(folder / "photo.recipe.toml",
                                recipe.substr(0, at) + escape + recipe.substr(at + reference.size()));
  writePicture(folder / "painted.png", sample(96, 64), Depth::eight);
  for (const std::vector<std::string>& words :
       {std::vector<std::string>{"history", "."}, {"redo", "photo.recipe.toml", "-o", "x.png"}}) {
    const RunResult r = runProgram(words, folder.path);
    EXPECT_NE((r.out + r.err).find("window"), std::string::npos) << words[0];
    for (const char* obeyed : {"\x1b", "\x07", "\xC2\x9B"})
      EXPECT_EQ((r.out + r.err).find(obeyed), std::string::npos) << words[0];
  }
}

}  // namespace
}  // namespace jugendstil
