// SPDX-License-Identifier: Apache-2.0
// Recipes that travel: to another installation, with files that moved.
#include <gtest/gtest.h>

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

class TravellingRecipes : public testing::Test {
 protected:
  void SetUp() override {
    fs::create_directories(folder / "old");
    writePicture(folder / "old/photo.png", sample(60, 44), Depth::eight);
    writePicture(folder / "old/ref.png", sample(50, 40, 2), Depth::eight);
    const RunResult r = run({"paint", "old/photo.png", "--after", "old/ref.png", "--steps", "1",
                             "--brushwork=no", "-q", "-o", "out.png"});
    ASSERT_EQ(r.code, 0) << r.err;
  }

  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }
  // Done again, and the same.
  std::string redone() const {
    const RunResult r = run({"redo", "out.recipe.toml", "--progress", "lines", "--force", "-o", "again.png"});
    EXPECT_EQ(r.code, 0) << r.err;
    EXPECT_EQ(contentOf(folder / "again.png"), contentOf(folder / "out.png"));
    return r.err;
  }
  void replaceInRecipe(const std::string& from, const std::string& to) const {
    std::string text = contentOf(folder / "out.recipe.toml");
    const auto at = text.find(from);
    ASSERT_NE(at, std::string::npos) << text;
    text.replace(at, from.size(), to);
    writeContent(folder / "out.recipe.toml", text);
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(TravellingRecipes, TheShippedNetworkIsCalledThat) {
  const std::string text = contentOf(folder / "out.recipe.toml");
  EXPECT_NE(text.find("[network]\nshipped = 'filigree'\nchecksum = "), std::string::npos) << text;
  EXPECT_EQ(text.find(".onnx"), std::string::npos) << text;
  redone();
  // As recipes of another installation once wrote it: a path that is not here.
  replaceInRecipe("shipped = 'filigree'", "file = '/opt/elsewhere/networks/filigree.onnx'");
  redone();
  replaceInRecipe("file = '/opt/elsewhere/networks/filigree.onnx'", "shipped = 'arabesque'");
  testing_support::expectError({"redo", "out.recipe.toml", "-o", "x.png"}, folder.path, 1,
                               "\"arabesque\" does not come with this version");
}

TEST_F(TravellingRecipes, MovedInputsAreFoundByChecksumAndByName) {
  fs::create_directories(folder / "new");
  fs::rename(folder / "old/photo.png", folder / "new/renamed.png");
  fs::rename(folder / "old/ref.png", folder / "ref.png");
  const std::string told = redone();
  EXPECT_NE(told.find("note: the photo is no longer "), std::string::npos) << told;
  EXPECT_NE(told.find("new/renamed.png"), std::string::npos) << told;
  // One of that name is better than none, and is said to be another.
  writePicture(folder / "ref.png", sample(50, 40, 9), Depth::eight);
  const RunResult other = run({"redo", "out.recipe.toml", "--progress", "lines", "-o", "other.png"});
  EXPECT_EQ(other.code, 0) << other.err;
  EXPECT_NE(other.err.find("is not the file the recipe was made with"), std::string::npos) << other.err;
}

TEST_F(TravellingRecipes, WhatIsNowhereIsSaidToBeSoAndHowToPointToIt) {
  fs::remove(folder / "old/ref.png");
  testing_support::expectError(
      {"redo", "out.recipe.toml", "-o", "x.png"}, folder.path, 1,
      "or the working folder, by name or by checksum; say where it lies with --after FILE");
  writePicture(folder / "else.png", sample(50, 40, 2), Depth::eight);
  EXPECT_EQ(run({"redo", "out.recipe.toml", "--after", "else.png", "-q", "-o", "x.png"}).code, 0);
}

}  // namespace
}  // namespace jugendstil
