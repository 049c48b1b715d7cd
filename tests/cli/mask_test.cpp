// SPDX-License-Identifier: Apache-2.0
// `mask`, and what paint does with masks, driven from outside.
#include "image/mask.h"

#include <gtest/gtest.h>

#include <algorithm>

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
using testing_support::writeContent;

class MaskProgram : public testing::Test {
 protected:
  void SetUp() override {
    Image photo = sample(64, 48);
    for (int y = 0; y < 48; ++y) {
      for (int x = 0; x < 32; ++x) {
        for (int c = 0; c < 3; ++c) photo.at(x, y, c) *= 0.2F;
      }
    }
    writePicture(folder / "photo.png", photo, Depth::eight);
    writePicture(folder / "ref.png", sample(70, 60, 5), Depth::eight);
    writeContent(
        folder / "left.svg",
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 64 48'><rect width='32' height='48'/></svg>");
  }

  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }
  RunResult mask(std::vector<std::string> words, const std::string& output = "m.png") const {
    words.insert(words.begin(), {"mask", "photo.png", "-o", output});
    return run(words);
  }
  std::vector<std::string> paintWords(const std::vector<std::string>& more) const {
    std::vector<std::string> words{"paint", "photo.png", "-o", "out.png", "--levels", "1", "--steps", "3"};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }

  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(MaskProgram, MakesAMaskAndAPictureToCheckItBy) {
  const RunResult r = mask({"--tones", "0..35", "--check", "check.png"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("m.png: 64x48, "), std::string::npos) << r.out;
  const Image made = readMask(folder / "m.png", 64, 48);
  EXPECT_EQ(made.at(5, 20, 0), 1.0F);
  EXPECT_LT(made.at(60, 20, 0), 0.5F);
  EXPECT_EQ(readPicture(folder / "check.png").image.width, 64);
}

TEST_F(MaskProgram, CombinesInTheOrderThatHelpSays) {
  writePicture(folder / "top.png", Image(64, 48, 1, 1.0F), Depth::eight);
  ASSERT_EQ(mask({"--drawing", "left.svg", "--within", "top.png", "--invert"}).code, 0);
  const Image made = readMask(folder / "m.png", 64, 48);
  EXPECT_EQ(made.at(10, 10, 0), 0.0F);
  EXPECT_EQ(made.at(50, 10, 0), 1.0F);
  ASSERT_EQ(mask({"--all", "--without", "left.svg", "--grow", "4", "--feather", "2", "--force"}).code, 0);
  EXPECT_GT(readMask(folder / "m.png", 64, 48).at(30, 24, 0), 0.8F);
  const RunResult black = mask({"--drawing", "left.svg", "--without", "top.png", "--force"});
  EXPECT_NE(black.err.find("black all over"), std::string::npos);
}

TEST_F(MaskProgram, SaysWhatIsWrong) {
  expectError({"mask", "photo.png", "-o", "m.png"}, 2, "what counts");
  expectError({"mask", "-o", "m.png", "--all"}, 2, "needs the photo");
  expectError({"mask", "photo.png", "--all"}, 2, "-o OUT.png");
  expectError({"mask", "photo.png", "-o", "m.png", "--tones", "60..20"}, 2, "like 0..30");
  expectError({"mask", "photo.png", "-o", "m.png", "--colour", "red"}, 2, "#c04a2e");
  expectError({"mask", "photo.png", "-o", "m.png", "--box", "1,2,3"}, 2, "X,Y,WIDTH,HEIGHT");
  expectError({"mask", "photo.png", "-o", "m.png", "--box", "50,40,30,30"}, 1, "does not lie in the photo");
  expectError({"mask", "photo.png", "-o", "m.png", "--drawing", "photo.png"}, 2, "SVG");
  expectError({"mask", "photo.png", "-o", "m.png", "--alpha"}, 1, "no transparency");
  expectError({"mask", "photo.png", "-o", "m.png", "--all", "--within", "ref.png"}, 1, "its photo's format");
  expectError({"mask", "photo.png", "-o", "m.png", "--all", "--feather", "x"}, 2, "--feather");
  expectError({"mask", "photo.png", "-o", "photo.png", "--all"}, 1, "exists already");
}

TEST_F(MaskProgram, PaintsInsideAMaskAndTheRecipeRemembersIt) {
  ASSERT_EQ(run(paintWords({"--after", "ref.png", "--inside", "left.svg"})).code, 0);
  const Image photo = readPicture(folder / "photo.png").image;
  const Image out = readPicture(folder / "out.png").image;
  EXPECT_EQ(out.at(60, 20, 0), photo.at(60, 20, 0));
  EXPECT_NE(out.at(10, 20, 0), photo.at(10, 20, 0));
  const std::string recipe = contentOf(folder / "out.recipe.toml");
  EXPECT_NE(recipe.find("[mask]\nfile = 'left.svg'"), std::string::npos) << recipe;
  ASSERT_EQ(run({"redo", "out.recipe.toml", "-o", "again.png"}).code, 0);
  EXPECT_EQ(contentOf(folder / "again.png"), contentOf(folder / "out.png"));
  ASSERT_EQ(run({"redo", "out.recipe.toml", "--outside", "left.svg", "-o", "other.png"}).code, 0);
  EXPECT_EQ(readPicture(folder / "other.png").image.at(10, 20, 0), photo.at(10, 20, 0));
}

TEST_F(MaskProgram, PaintsPartsAfterTheirOwnReferencesWithLayersChartAndStrip) {
  const RunResult r =
      run(paintWords({"--part", "left.svg=ref.png@2", "--layers", "out.ora", "--chart", "loss.png",
                      "--snapshots", "1", "--opacity", "0.8", "--blend", "soft-light"}));
  ASSERT_EQ(r.code, 0) << r.err;
  const Image photo = readPicture(folder / "photo.png").image;
  EXPECT_EQ(readPicture(folder / "out.png").image.at(60, 20, 0), photo.at(60, 20, 0));
  EXPECT_NE(contentOf(folder / "out.ora").find("composite-op=\"svg:soft-light\" opacity=\"0.8\""),
            std::string::npos);
  EXPECT_EQ(readPicture(folder / "loss.png").image.width, 1280);
  EXPECT_GT(readPicture(folder / "out.steps.png").image.width, 400);
  const PaintRecipe recipe =
      parsePaintRecipe(contentOf(folder / "out.recipe.toml"), folder / "out.recipe.toml");
  ASSERT_EQ(recipe.parts.size(), 1U);
  EXPECT_EQ(recipe.parts[0].reference.share, 2);
  ASSERT_EQ(run({"redo", "out.recipe.toml", "-o", "again.png", "--snapshots", "0"}).code, 0);
  EXPECT_EQ(contentOf(folder / "again.png"), contentOf(folder / "out.png"));
}

TEST_F(MaskProgram, HoldsPartsByTheirOwnLikenessAndTheRecipeRemembersThem) {
  const auto painted = [&](std::vector<std::string> words, const char* output) {
    words.insert(words.begin(), {"paint", "photo.png", "--after", "ref.png", "--likeness", "0", "--levels",
                                 "1", "--steps", "9", "-o", output});
    const RunResult r = run(words);
    EXPECT_EQ(r.code, 0) << r.err;
    return readPicture(folder / output).image;
  };
  const Image free = painted({}, "free.png");
  const Image held = painted({"--hold", "left.svg=100"}, "held.png");
  EXPECT_NE(held.pixels, free.pixels);
  const std::string recipe = contentOf(folder / "held.recipe.toml");
  EXPECT_NE(recipe.find("[[hold]]\nfile = 'left.svg'"), std::string::npos) << recipe;
  EXPECT_NE(recipe.find("likeness = 100"), std::string::npos);
  ASSERT_EQ(run({"redo", "held.recipe.toml", "-o", "again.png"}).code, 0);
  EXPECT_EQ(contentOf(folder / "again.png"), contentOf(folder / "held.png"));
  EXPECT_NE(run({"history", "."}).out.find("holding left.svg 100"), std::string::npos);
}

TEST_F(MaskProgram, DrawsLinesOverAPaintingAndTheRecipeRemembersThem) {
  writeContent(folder / "ink.svg",
               "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 64 48'><rect y='20' width='64' "
               "height='8'/></svg>");
  const RunResult r =
      run(paintWords({"--after", "ref.png", "--lines-from", "ink.svg", "--lines-inside", "left.svg"}));
  ASSERT_EQ(r.code, 0) << r.err;
  const Image out = readPicture(folder / "out.png").image;
  const Image reference = readPicture(folder / "ref.png").image;
  const float darkest = *std::min_element(reference.pixels.begin(), reference.pixels.end());
  // The same ink all along the stroke, dark, and only where the mask is white.
  EXPECT_EQ(out.at(4, 24, 1), out.at(26, 24, 1));
  EXPECT_LT(out.at(4, 24, 1), darkest + 0.25F);
  EXPECT_NE(out.at(40, 24, 1), out.at(60, 24, 1));
  const std::string recipe = contentOf(folder / "out.recipe.toml");
  EXPECT_NE(recipe.find("[lines_from]\nfile = 'ink.svg'"), std::string::npos) << recipe;
  EXPECT_NE(recipe.find("[lines_inside]\nfile = 'left.svg'"), std::string::npos);
  EXPECT_NE(recipe.find("\nlines = 100"), std::string::npos);
  ASSERT_EQ(run({"redo", "out.recipe.toml", "-o", "again.png"}).code, 0);
  EXPECT_EQ(contentOf(folder / "again.png"), contentOf(folder / "out.png"));
  ASSERT_EQ(run({"redo", "out.recipe.toml", "--lines", "0", "-o", "without.png"}).code, 0);
  EXPECT_NE(contentOf(folder / "without.png"), contentOf(folder / "out.png"));
  expectError(paintWords({"--after", "ref.png", "--lines", "120"}), 2, "lines");
  expectError(paintWords({"--after", "ref.png", "--lines-from", "ref.png", "--force"}), 1,
              "its photo's format");
  expectError(paintWords({"--after", "ref.png", "--lines-inside", "none.png", "--force"}), 1, "none.png");
}

TEST_F(MaskProgram, FindsFaces) {
  expectError({"mask", "photo.png", "-o", "m.png", "--faces"}, 1, "no face was found");
  const RunResult none = run(paintWords({"--after", "ref.png", "--hold", "faces=85"}));
  EXPECT_EQ(none.code, 0) << none.err;
  EXPECT_NE(none.err.find("no face was found"), std::string::npos) << none.err;
  std::filesystem::copy_file(testing_support::sourceFolder() / "tests/data/face.png", folder / "face.png");
  ASSERT_EQ(run({"mask", "face.png", "-o", "face-mask.png", "--faces"}).code, 0);
  const Image made = readMask(folder / "face-mask.png", 270, 180);
  EXPECT_EQ(made.at(142, 86, 0), 1.0F);
  EXPECT_EQ(made.at(20, 86, 0), 0.0F);
  const RunResult dry =
      run({"paint", "face.png", "--after", "ref.png", "--hold", "faces=85", "-o", "f.png", "--dry-run"});
  EXPECT_NE(dry.out.find("hold faces by a likeness of 85"), std::string::npos) << dry.out << dry.err;
}

TEST_F(MaskProgram, PaintingWithMasksSaysWhatIsWrong) {
  expectError(paintWords({"--after", "ref.png", "--hold", "left.svg"}), 2, "hand.png=85");
  expectError(paintWords({"--after", "ref.png", "--hold", "left.svg=120"}), 2, "--hold");
  expectError(paintWords({"--after", "ref.png", "--hold", "none.png=80"}), 1, "none.png");
  expectError(paintWords({"--quick", "--after", "ref.png", "--hold", "left.svg=80"}), 2, "--hold goes with");
  expectError(paintWords({"--after", "ref.png", "--inside", "left.svg", "--outside", "left.svg"}), 2,
              "one of them");
  expectError(paintWords({"--part", "left.svg"}), 2, "sky.png=evening.jpg");
  expectError(paintWords({"--part", "left.svg=none.png"}), 1, "none.png");
  expectError(paintWords({"--after", "ref.png", "--inside", "ref.png"}), 1, "its photo's format");
  expectError(paintWords({"--after", "ref.png", "--layers", "out.psd.png"}), 2, ".ora");
  expectError(paintWords({"--after", "ref.png", "--blend", "burn"}), 2, "blend");
  expectError(paintWords({}), 2, "--part MASK=REF");
}

}  // namespace
}  // namespace jugendstil
