// SPDX-License-Identifier: Apache-2.0
// Turning a painting's strength afterwards, without painting anew.
#include <gtest/gtest.h>

#include "image/picture_file.h"
#include "paint/recipe.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::filesIn;
using testing_support::RunResult;
using testing_support::sample;

class KeptPainting : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "photo.png", sample(60, 44), Depth::eight);
    writePicture(folder / "ref.png", sample(70, 60, 5), Depth::eight);
  }

  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }
  RunResult paint(const std::string& output, std::vector<std::string> more = {}) const {
    std::vector<std::string> words{"paint", "photo.png", "--after", "ref.png", "--levels",
                                   "1",     "--steps",   "3",       "-o",      output};
    words.insert(words.end(), more.begin(), more.end());
    return run(words);
  }
  // That redo only lays the painting over the photo, and comes to what painting anew like that comes to.
  void expectLaid(const std::string& recipe, const std::vector<std::string>& change,
                  std::vector<std::string> given = {}, const std::string& ending = ".png") const {
    std::vector<std::string> words{"redo", recipe, "-o", "laid" + ending, "--force"};
    words.insert(words.end(), change.begin(), change.end());
    const RunResult r = run(words);
    ASSERT_EQ(r.code, 0) << r.err;
    EXPECT_NE(r.out.find("nothing was painted anew"), std::string::npos) << r.out;
    given.insert(given.end(), change.begin(), change.end());
    given.push_back("--force");
    const RunResult anew = paint("anew" + ending, given);
    ASSERT_EQ(anew.code, 0) << anew.err;
    EXPECT_NE(anew.out.find("painted in"), std::string::npos) << anew.out;
    EXPECT_TRUE(sameFiles("laid" + ending, "anew" + ending)) << recipe;
  }
  bool sameFiles(const std::string& a, const std::string& b) const {
    return contentOf(folder / a) == contentOf(folder / b);
  }
  PaintRecipe recipeOf(const std::string& name) const {
    return parsePaintRecipe(contentOf(folder / name), folder / name);
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(KeptPainting, IsThePictureItselfWhereThatIsAllOfIt) {
  ASSERT_EQ(paint("out.png").code, 0);
  EXPECT_FALSE(fs::exists(folder / "out.painting.png"));
  expectLaid("out.recipe.toml", {"--opacity", "0.6"});
  expectLaid("out.recipe.toml", {"--opacity", "30", "--blend", "multiply"});
  // What was laid can be laid again.
  EXPECT_EQ(recipeOf("laid.recipe.toml").settings.opacity, 0.3);
  const RunResult again = run({"redo", "laid.recipe.toml", "--opacity", "0.6", "-o", "third.png"});
  EXPECT_NE(again.out.find("the painting in out.png laid over the photo"), std::string::npos) << again.out;
}

TEST_F(KeptPainting, LiesBesideThePictureWhereThatIsLessOfIt) {
  ASSERT_EQ(paint("out.png", {"--opacity", "40"}).code, 0);
  EXPECT_TRUE(fs::exists(folder / "out.painting.png"));
  expectLaid("out.recipe.toml", {"--opacity", "100"});
  expectLaid("out.recipe.toml", {"--blend", "screen"}, {"--opacity", "40"});
  ASSERT_EQ(paint("out.jpg", {"--quality", "60"}).code, 0);
  expectLaid("out.jpg.recipe.toml", {"--quality", "90"}, {}, ".jpg");
}

TEST_F(KeptPainting, HasItsMaskAndItsBits) {
  testing_support::writeContent(folder / "left.svg",
                                "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 60 44'>"
                                "<circle cx='20' cy='20' r='17.3' fill='white'/></svg>");
  ASSERT_EQ(paint("out.png", {"--inside", "left.svg"}).code, 0);
  expectLaid("out.recipe.toml", {"--opacity", "70"}, {"--inside", "left.svg"});
  const Image photo = readPicture(folder / "photo.png").image;
  EXPECT_EQ(readPicture(folder / "laid.png").image.at(55, 40, 0), photo.at(55, 40, 0));
  writePicture(folder / "photo.png", sample(60, 44), Depth::sixteen);
  ASSERT_EQ(paint("deep.tif", {"--opacity", "0.5"}).code, 0);
  EXPECT_EQ(readPicture(folder / "deep.painting.png").depth, Depth::sixteen);
  expectLaid("deep.recipe.toml", {"--opacity", "0.6"}, {}, ".tif");
  // Fewer bits are another painting.
  const RunResult eight = run({"redo", "deep.recipe.toml", "--depth", "8", "-o", "eight.png"});
  EXPECT_NE(eight.out.find("painted in"), std::string::npos) << eight.out;
}

TEST_F(KeptPainting, IsNotTakenWhereAnythingElseIsNew) {
  ASSERT_EQ(paint("out.png").code, 0);
  const auto paintsAnew = [&](const std::vector<std::string>& more) {
    std::vector<std::string> words{"redo", "out.recipe.toml", "-o", "new.png", "--force"};
    words.insert(words.end(), more.begin(), more.end());
    const RunResult r = run(words);
    EXPECT_EQ(r.code, 0) << r.err;
    return r.out.find("painted in") != std::string::npos;
  };
  EXPECT_TRUE(paintsAnew({})) << "to compare";
  EXPECT_TRUE(paintsAnew({"--opacity", "0.5", "--likeness", "70"}));
  EXPECT_TRUE(paintsAnew({"--opacity", "0.5", "--chart", "loss.png"}));
  writePicture(folder / "ref.png", sample(70, 60, 8), Depth::eight);
  EXPECT_TRUE(paintsAnew({"--opacity", "0.5"}));
  writePicture(folder / "ref.png", sample(70, 60, 5), Depth::eight);
  EXPECT_FALSE(paintsAnew({"--opacity", "0.5"}));
  // Touched by another hand.
  writePicture(folder / "out.png", sample(60, 44, 3), Depth::eight);
  EXPECT_TRUE(paintsAnew({"--opacity", "0.5"}));
  fs::remove(folder / "out.png");
  EXPECT_TRUE(paintsAnew({"--opacity", "0.5"}));
}

TEST_F(KeptPainting, IsNotLostWhereThePictureIsReplaced) {
  ASSERT_EQ(paint("out.png").code, 0);
  const std::string painting = contentOf(folder / "out.png");
  ASSERT_EQ(run({"redo", "out.recipe.toml", "--opacity", "20", "-o", "out.png", "--force"}).code, 0);
  EXPECT_TRUE(contentOf(folder / "out.png") != painting);
  expectLaid("out.recipe.toml", {"--opacity", "90"});
  // Nothing of the user's own makes room for it.
  testing_support::writeContent(folder / "mine.painting.png", "mine");
  testing_support::expectError(
      {"paint", "photo.png", "--after", "ref.png", "--steps", "1", "--opacity", "0.5", "-o", "mine.png"},
      folder.path, 1, "mine.painting.png");
  EXPECT_EQ(contentOf(folder / "mine.painting.png"), "mine");
}

TEST_F(KeptPainting, ServesAllOfATable) {
  const RunResult planned =
      paint("drafts", {"--vary", "opacity=30,60,100", "--vary", "likeness=20,80", "--dry-run"});
  EXPECT_NE(planned.out.find("time for all 2"), std::string::npos) << planned.out;
  const RunResult r = paint("drafts", {"--vary", "opacity=30,60,100", "--vary", "likeness=20,80"});
  ASSERT_EQ(r.code, 0) << r.err;
  const auto count = [&](const std::string& part) {
    int found = 0;
    for (auto at = r.out.find(part); at != std::string::npos; at = r.out.find(part, at + 1)) ++found;
    return found;
  };
  EXPECT_EQ(count("painted in"), 2) << r.out;
  EXPECT_EQ(count("nothing was painted anew"), 4) << r.out;
  ASSERT_EQ(paint("alone.png", {"--opacity", "60", "--likeness", "80"}).code, 0);
  EXPECT_TRUE(sameFiles("drafts/photo-opacity-60-likeness-80.png", "alone.png"));
  EXPECT_FALSE(sameFiles("drafts/photo-opacity-30-likeness-80.png", "alone.png"));
}

}  // namespace
}  // namespace jugendstil
