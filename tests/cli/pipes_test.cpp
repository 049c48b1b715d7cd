// SPDX-License-Identifier: Apache-2.0
// Pictures and looks through standard input and output.
#include <gtest/gtest.h>

#include "image/picture_file.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::filesIn;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::writeContent;
using Words = std::vector<std::string>;

class PipesProgram : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "photo.jpg", sample(60, 44), Depth::eight);
    writePicture(folder / "ref.png", sample(50, 40, 5), Depth::eight);
  }

  RunResult run(const Words& words, const std::string& in = {}) const {
    testing_support::Surroundings around{"", "", 0, {"TMPDIR=" + (folder / "").string()}};
    if (!in.empty()) around.in = folder / in;
    return testing_support::runProgram(words, folder.path, around);
  }
  // What comes out of the pipe, which is to be what the same command writes into a file.
  void expectSame(Words words, const std::string& in, const std::string& output) const {
    Words piped = words;
    piped.insert(piped.end(), {"-o", "-"});
    for (std::string& word : piped) word = word == in ? "-" : word;
    words.insert(words.end(), {"-o", output, "-q"});
    ASSERT_EQ(run(words).code, 0);
    const RunResult r = run(piped, in);
    EXPECT_EQ(r.code, 0) << r.err;
    EXPECT_TRUE(r.out == contentOf(folder / output)) << words[0] << ": " << r.err;
    EXPECT_NE(r.err.find("standard output: "), std::string::npos) << r.err;
  }
  void expectError(const Words& words, int code, const std::string& part, const std::string& in) const {
    testing_support::Surroundings around{"", "", 0, {"TMPDIR=" + (folder / "").string()}};
    around.in = folder / in;
    testing_support::expectError(words, folder.path, code, part, around);
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(PipesProgram, PicturesComeInAndGoOutInTheirFormat) {
  expectSame({"grade", "photo.jpg", "--after", "ref.png"}, "photo.jpg", "graded.jpg");
  expectSame({"mask", "photo.jpg", "--tones", "50..100"}, "photo.jpg", "mask.png");
  const RunResult both = run({"compare", "photo.jpg", "-", "--view", "difference", "-o", "-"}, "graded.jpg");
  ASSERT_EQ(run({"compare", "photo.jpg", "graded.jpg", "--view", "difference", "-o", "both.png"}).code, 0);
  EXPECT_TRUE(both.out == contentOf(folder / "both.png")) << both.err;
  expectSame({"paint", "photo.jpg", "--after", "ref.png", "--steps", "1", "--levels", "1", "--brushwork=no"},
             "photo.jpg", "painted.jpg");
  EXPECT_EQ(
      run({"grade", "-", "--after", "ref.png", "-o", "-", "--format", "png"}, "photo.jpg").out.substr(1, 3),
      "PNG");
  EXPECT_EQ(run({"compare", "photo.jpg", "-", "-o", "-", "--format", "html"}, "graded.jpg").out.substr(0, 9),
            "<!DOCTYPE");
}

TEST_F(PipesProgram, LooksComeInAndGoOut) {
  ASSERT_EQ(run({"grade", "photo.jpg", "--after", "ref.png", "--save-look", "a.look.toml"}).code, 0);
  const RunResult cube = run({"look", "-", "-o", "-", "--format", "cube"}, "a.look.toml");
  EXPECT_EQ(cube.code, 0) << cube.err;
  EXPECT_NE(cube.out.find("LUT_3D_SIZE 33"), std::string::npos);
  writeContent(folder / "b.cube", cube.out);
  EXPECT_EQ(run({"look", "-", "--in-words"}, "b.cube").out, run({"look", "b.cube", "--in-words"}).out);
}

TEST_F(PipesProgram, NothingIsLeftAndWhatCameIsNotInTheRecipe) {
  const auto before = filesIn(folder.path);
  ASSERT_EQ(run({"paint", "-", "--after", "ref.png", "--steps", "1", "-q", "-o", "-"}, "photo.jpg").code, 0);
  EXPECT_EQ(filesIn(folder.path), before);
  ASSERT_EQ(run({"grade", "-", "--after", "ref.png", "-o", "out.png"}, "photo.jpg").code, 0);
  EXPECT_EQ(contentOf(folder / "out.recipe.toml").find("[photo]"), std::string::npos);
  const RunResult again = run({"redo", "out.recipe.toml", "--photo", "photo.jpg", "-o", "again.png"});
  EXPECT_EQ(again.code, 0) << again.err;
  EXPECT_EQ(contentOf(folder / "again.png"), contentOf(folder / "out.png"));
}

TEST_F(PipesProgram, WhatIsWrongIsSaidOfTheStream) {
  const Words grade{"grade", "-", "--after", "ref.png", "-o", "-"};
  writeContent(folder / "rubbish", "no picture");
  writeContent(folder / "half.jpg", contentOf(folder / "photo.jpg").substr(0, 700));
  expectError(grade, 1, "standard input is no picture or look by its first bytes", "rubbish");
  expectError(grade, 1, "standard input: the JPEG is truncated", "half.jpg");
  expectError(grade, 1, "nothing came through standard input", "/dev/null");
  expectError({"compare", "-", "-", "-o", "-"}, 2, "one file only", "photo.jpg");
  expectError({"grade", "-", "--after", "ref.png", "-o", "a.png", "--format", "png"}, 2,
              "--format is for -o -", "photo.jpg");
  expectError({"grade", "-", "--after", "ref.png", "-o", "-", "--progress", "json"}, 2,
              "both write to standard output", "photo.jpg");
  expectError({"paint", "-", "photo.jpg", "--after", "ref.png", "-o", "-"}, 2,
              "a single painting goes through", "photo.jpg");
}

}  // namespace
}  // namespace jugendstil
