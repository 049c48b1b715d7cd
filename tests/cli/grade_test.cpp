// SPDX-License-Identifier: Apache-2.0
// grade and look, driven as built on files in a temporary folder.
#include <gtest/gtest.h>

#include <cmath>
#include <nlohmann/json.hpp>
#include <sstream>

#include "image/metadata_blocks.h"
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

class Grade : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "photo.png", sample(90, 60), Depth::sixteen);
    Image warm = sample(80, 60, 5);
    for (std::size_t i = 0; i < warm.area(); ++i) {
      warm.pixels[i * 3] = 0.3F + 0.6F * warm.pixels[i * 3];
      warm.pixels[i * 3 + 2] *= 0.6F;
    }
    writePicture(folder / "warm.png", warm, Depth::eight);
    writePicture(folder / "grey.png", Image(40, 40, 3, 0.4F), Depth::eight);
  }

  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }

  RunResult good(const std::vector<std::string>& words) const {
    const RunResult r = run(words);
    EXPECT_EQ(r.code, 0) << r.err;
    return r;
  }

  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }

  double difference(const std::string& a, const std::string& b) const {
    const Image one = rgbOf(readPicture(folder / a).image);
    const Image two = rgbOf(readPicture(folder / b).image);
    double most = 0;
    for (std::size_t i = 0; i < one.pixels.size(); ++i) {
      most = std::max(most, static_cast<double>(std::fabs(one.pixels[i] - two.pixels[i])));
    }
    return most;
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(Grade, GradesOnePhotoAndTellsHowNear) {
  const RunResult r = good({"grade", "photo.png", "--after", "warm.png", "-o", "out.png"});
  EXPECT_NE(r.out.find("out.png: 90x60, graded in"), std::string::npos) << r.out;
  EXPECT_NE(r.out.find("% nearer to the reference"), std::string::npos) << r.out;
  EXPECT_NE(r.out.find("CIEDE2000"), std::string::npos);
  EXPECT_EQ(readPicture(folder / "out.png").depth, Depth::sixteen);
  EXPECT_GT(difference("photo.png", "out.png"), 0.05);
  good({"grade", "photo.png", "--after", "warm.png", "-o", "again.png", "--threads", "1"});
  EXPECT_EQ(contentOf(folder / "out.png"), contentOf(folder / "again.png"));
}

TEST_F(Grade, EveryOptionChangesThePicture) {
  const std::vector<std::string> base{"grade", "photo.png", "--after", "warm.png"};
  const auto with = [&](std::vector<std::string> more, const std::string& out) {
    std::vector<std::string> words = base;
    words.insert(words.end(), more.begin(), more.end());
    words.insert(words.end(), {"-o", out, "-q"});
    good(words);
  };
  with({}, "whole.png");
  Image mask(90, 60, 3);
  for (std::size_t i = 0; i < mask.pixels.size() / 2; ++i) mask.pixels[i] = 1;
  writePicture(folder / "mask.png", mask, Depth::eight);
  const std::vector<std::vector<std::string>> variants{{"--match", "tone"},      {"--match", "colour,detail"},
                                                       {"--method", "mean-std"}, {"--method", "distribution"},
                                                       {"--amount", "50"},       {"--amount", "colour=0"},
                                                       {"--opacity", "0.5"},     {"--blend", "luminosity"},
                                                       {"--inside", "mask.png"}, {"--after", "grey.png@2"}};
  for (std::size_t i = 0; i < variants.size(); ++i) {
    std::string out = std::to_string(i);
    out.append(".png");
    with(variants[i], out);
    EXPECT_GT(difference("whole.png", out), 0.005) << variants[i][0] << " " << variants[i][1];
  }
  with({"--amount", "0"}, "none.png");
  EXPECT_LT(difference("photo.png", "none.png"), 2e-3);
}

TEST_F(Grade, ALookIsKeptAppliedEditedAndExported) {
  good({"grade", "photo.png", "--after", "warm.png", "-o", "out.png", "--save-look", "warm.look.toml"});
  good({"grade", "photo.png", "--look", "warm.look.toml", "-o", "again.png"});
  // The file rounds to ten-thousandths.
  EXPECT_LT(difference("out.png", "again.png"), 1e-3);
  const RunResult words = good({"look", "warm.look.toml", "--in-words"});
  EXPECT_NE(words.out.find("warms"), std::string::npos) << words.out;
  std::string text = contentOf(folder / "warm.look.toml");
  const auto at = text.find("exposure   = ");
  ASSERT_NE(at, std::string::npos);
  text.replace(at, text.find('#', at) - at, "exposure   = 1.5 ");
  writeContent(folder / "bright.look.toml", text);
  good({"grade", "photo.png", "--look", "bright.look.toml", "-o", "bright.png"});
  EXPECT_GT(readPicture(folder / "bright.png").image.pixels[50],
            readPicture(folder / "out.png").image.pixels[50] + 0.05F);
  good({"grade", "photo.png", "--look", "warm.look.toml", "--amount", "detail=0", "-o", "flat.png"});
  good({"look", "warm.look.toml", "-o", "w.cube", "-o", "w.clf", "-o", "w_hald.png"});
  for (const char* name : {"w.cube", "w.clf", "w_hald.png"}) {
    good({"grade", "photo.png", "--look", name, "-o", "via.png", "--force"});
    EXPECT_LT(difference("flat.png", "via.png"), std::string(name) == "w_hald.png" ? 8e-3 : 1e-3) << name;
  }
  good({"look", "w.cube", "-o", "imported.look.toml"});
  good({"grade", "photo.png", "--look", "imported.look.toml", "-o", "imported.png"});
  EXPECT_LT(difference("flat.png", "imported.png"), 2e-3);
}

TEST_F(Grade, LooksAreMixedAndSet) {
  good({"grade", "photo.png", "--after", "warm.png", "--save-look", "warm.look.toml"});
  good({"grade", "photo.png", "--after", "grey.png", "--save-look", "grey.look.toml"});
  good({"look", "warm.look.toml", "--towards", "grey.look.toml", "--by", "0", "-o", "same.look.toml"});
  good({"look", "warm.look.toml", "--towards", "grey.look.toml", "--by", "0.4", "--set", "tone.exposure=1",
        "-o", "mix.look.toml"});
  EXPECT_NE(contentOf(folder / "mix.look.toml").find("exposure   = 1 "), std::string::npos);
  const std::vector<std::string> out{"-o", "a.png", "--force", "-q"};
  good({"grade", "photo.png", "--look", "warm.look.toml", "-o", "warm_out.png", "-q"});
  good({"grade", "photo.png", "--look", "same.look.toml", "-o", "same_out.png", "-q"});
  EXPECT_LT(difference("warm_out.png", "same_out.png"), 2e-3);
}

TEST_F(Grade, ARecipeGradesAgainAndVaries) {
  good({"grade", "photo.png", "--after", "warm.png", "--amount", "tone=50", "-o", "out.png"});
  ASSERT_TRUE(fs::exists(folder / "out.recipe.toml"));
  good({"redo", "out.recipe.toml", "-q"});
  EXPECT_EQ(contentOf(folder / "out-again.png"), contentOf(folder / "out.png"));
  good({"redo", "out.recipe.toml", "--amount", "30", "-o", "less.png"});
  EXPECT_GT(difference("less.png", "out.png"), 0.02);
  EXPECT_LT(difference("less.png", "photo.png"), difference("out.png", "photo.png"));
  EXPECT_EQ(good({"history", "out.png", "less.png", "--differs"}).out,
            "amount: tone=50,colour=100,detail=100 / 30\n");
  // As a preset, for another photo.
  good({"grade", "grey.png", "--recipe", "out.recipe.toml", "-o", "grey_out.png"});
  const RunResult listed = good({"history", ".", "--of", "grade", "--where", "amount=30"});
  EXPECT_NE(listed.out.find("less.png\n  grade photo.png after warm.png: amount 30\n"), std::string::npos)
      << listed.out;
  EXPECT_EQ(listed.out.find("grey_out.png"), std::string::npos);
  expectError({"paint", "photo.png", "--recipe", "out.recipe.toml", "-o", "x.png"}, 2, "a recipe of grade");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "out.png"}, 1, "out.png exists already");
}

TEST_F(Grade, ASeriesHasOneRecipe) {
  const std::vector<std::string> words{"grade",    "photo.png",  "grey.png", "--after",
                                       "warm.png", "--together", "-o",       "set/"};
  good(words);
  EXPECT_EQ(filesIn(folder / "set"),
            (std::vector<std::string>{"grey.png", "photo.png", "series.recipe.toml"}));
  good({"redo", "set/series.recipe.toml"});
  EXPECT_EQ(contentOf(folder / "set-again/photo.png"), contentOf(folder / "set/photo.png"));
  EXPECT_EQ(contentOf(folder / "set-again/grey.png"), contentOf(folder / "set/grey.png"));
  good({"redo", "set/series.recipe.toml", "--each", "-o", "each/"});
  EXPECT_GT(difference("each/photo.png", "set/photo.png"), 0.02);
  // A further series in the same folder takes nothing from the first.
  const std::string first = contentOf(folder / "set/series.recipe.toml");
  writePicture(folder / "c.png", sample(40, 30, 8), Depth::eight);
  writePicture(folder / "d.png", sample(40, 30, 9), Depth::eight);
  good({"grade", "c.png", "d.png", "--after", "warm.png", "-o", "set/"});
  EXPECT_EQ(contentOf(folder / "set/series.recipe.toml"), first);
  const auto past = nlohmann::json::parse(good({"history", "set", "--json", "--photo", "c.png"}).out);
  EXPECT_EQ(past.at("recipe"), "set/series-2.recipe.toml");
  EXPECT_EQ(past.at("files").size(), 2U);
  // What moved is found, what changed is told.
  fs::rename(folder / "warm.png", folder / "set/renamed.png");
  const RunResult moved = good({"redo", "set/series.recipe.toml", "-o", "third/", "--progress", "lines"});
  EXPECT_NE(moved.err.find("the reference is no longer"), std::string::npos) << moved.err;
}

TEST_F(Grade, PartsTakeLooksOfTheirOwn) {
  Image left(90, 60, 3);
  for (int y = 0; y < 60; ++y) {
    for (int x = 0; x < 45; ++x) {
      for (int c = 0; c < 3; ++c) left.at(x, y, c) = 1;
    }
  }
  writePicture(folder / "left.png", left, Depth::eight);
  good({"grade", "photo.png", "--after", "warm.png", "--save-look", "warm.look.toml"});
  good({"grade", "photo.png", "--part", "left.png=warm.png", "-o", "part.png"});
  good({"grade", "photo.png", "--after", "warm.png", "--inside", "left.png", "-o", "inside.png"});
  EXPECT_EQ(difference("part.png", "inside.png"), 0);
  // By a look, and the rest after another reference.
  const RunResult both = good(
      {"grade", "photo.png", "--after", "grey.png", "--part", "left.png=warm.look.toml", "-o", "both.png"});
  EXPECT_NE(both.out.find("  elsewhere: "), std::string::npos) << both.out;
  EXPECT_NE(both.out.find("  under left.png: "), std::string::npos) << both.out;
  good({"grade", "photo.png", "--look", "warm.look.toml", "--inside", "left.png", "-o", "l.png"});
  good({"grade", "photo.png", "--after", "grey.png", "--outside", "left.png", "-o", "r.png"});
  const Image all = readPicture(folder / "both.png").image;
  const Image one = readPicture(folder / "l.png").image;
  const Image other = readPicture(folder / "r.png").image;
  EXPECT_EQ(all.at(10, 30, 0), one.at(10, 30, 0));
  EXPECT_EQ(all.at(80, 30, 2), other.at(80, 30, 2));
  good({"redo", "both.recipe.toml", "-o", "again.png"});
  EXPECT_EQ(contentOf(folder / "again.png"), contentOf(folder / "both.png"));
  // A series: one look for each part.
  good({"grade", "photo.png", "grey.png", "--part", "left.png=warm.png", "--together", "-o", "set/"});
  EXPECT_GT(difference("set/photo.png", "part.png"), 0.005);
  expectError({"grade", "photo.png", "--part", "left.png", "-o", "x.png"}, 2,
              "--part is a mask and a reference");
  expectError({"grade", "photo.png", "--part", "left.png=warm.png", "--save-look", "x.toml"}, 2,
              "--save-look is of one look");
}

TEST_F(Grade, ASetOfTwentyWithABrokenOne) {
  std::vector<std::string> words{"grade"};
  fs::create_directory(folder / "series");
  for (int i = 0; i < 20; ++i) {
    std::string name = "series/p";
    name.append(std::to_string(i)).append(".png");
    writePicture(folder / name, sample(40, 30, static_cast<unsigned>(i) + 1), Depth::eight);
    words.push_back(name);
  }
  const std::string whole = contentOf(folder / "series/p7.png");
  writeContent(folder / "series/p7.png", whole.substr(0, whole.size() / 2));
  words.insert(words.end(), {"--after", "warm.png", "-o", "graded/"});
  const RunResult r = run(words);
  EXPECT_EQ(r.code, 1);
  EXPECT_NE(r.out.find("19 of 20 photos graded"), std::string::npos) << r.out;
  EXPECT_NE(r.err.find("series/p7.png: the PNG is truncated"), std::string::npos) << r.err;
  EXPECT_NE(r.err.find("1 of 20 photos failed"), std::string::npos);
  EXPECT_EQ(filesIn(folder / "graded").size(), 20U);  // and their recipe
  words.insert(words.end(), {"--together", "--save-look", "set.look.toml", "--force"});
  EXPECT_EQ(run(words).code, 1);
  // One look: applying it to any of them gives what the set got.
  good({"grade", "series/p3.png", "--look", "set.look.toml", "-o", "p3.png"});
  EXPECT_LT(difference("p3.png", "graded/p3.png"), 0.0045);
}

TEST_F(Grade, ProgressForOtherPrograms) {
  const RunResult r =
      good({"grade", "photo.png", "--after", "warm.png", "-o", "out.png", "--progress", "json"});
  std::istringstream lines(r.out);
  nlohmann::json last;
  for (std::string line; std::getline(lines, line);) last = nlohmann::json::parse(line);
  EXPECT_EQ(last["event"], "done");
  EXPECT_EQ(last["width"], 90);
  EXPECT_LT(last["sliced_distance"][1], last["sliced_distance"][0]);
}

TEST_F(Grade, ExifAndProfileReachTheResult) {
  writePicture(folder / "a.jpg", sample(60, 40), Depth::eight);
  const std::string exif("II*\0\x08\0\0\0\x01\0\x12\x01\x03\0\x01\0\0\0\x01\0\0\0\0\0\0\0", 26);
  putMetadataBlocks(folder / "a.jpg", {exif, "<x/>", ""});
  good({"grade", "a.jpg", "--after", "warm.png", "-o", "b.jpg"});
  EXPECT_EQ(metadataBlocksOf(contentOf(folder / "b.jpg")).exif, exif);
  EXPECT_EQ(metadataBlocksOf(contentOf(folder / "b.jpg")).xmp, "<x/>");
}

TEST_F(Grade, DrawsTheChartAndPlansWithoutWriting) {
  good({"grade", "photo.png", "--after", "warm.png", "-o", "out.png", "--chart", "chart.png"});
  EXPECT_EQ(readPicture(folder / "chart.png").image.width, 1600);
  const auto before = filesIn(folder.path);
  const RunResult r = good({"grade", "photo.png", "--after", "warm.png", "-o", "other.png", "--dry-run"});
  EXPECT_NE(r.out.find("would write other.png"), std::string::npos);
  EXPECT_NE(r.out.find("memory: about"), std::string::npos);
  EXPECT_NE(r.out.find("time: about"), std::string::npos);
  EXPECT_EQ(filesIn(folder.path), before);
}

TEST_F(Grade, OnePixelAndOneColourAreGradedToo) {
  writePicture(folder / "pixel.png", Image(1, 1, 3, 0.3F), Depth::eight);
  good({"grade", "pixel.png", "--after", "warm.png", "-o", "a.png"});
  good({"grade", "photo.png", "--after", "pixel.png", "-o", "b.png"});
  good({"grade", "grey.png", "--after", "pixel.png", "--method", "distribution", "-o", "c.png"});
  EXPECT_NEAR(readPicture(folder / "c.png").image.pixels[0], 0.3F, 0.03F);
}

TEST_F(Grade, MistakesGetOneClearLine) {
  writeContent(folder / "bad.look.toml", "look = 1\n[tone]\nexposure = \"a lot\"\n");
  writePicture(folder / "black.png", Image(10, 10), Depth::eight);
  expectError({"grade"}, 2, "grade needs a photo");
  expectError({"grade", "photo.png", "-o", "a.png"}, 2, "a reference or a look");
  expectError({"grade", "photo.png", "--after", "warm.png"}, 2, "a place for the result");
  expectError({"grade", "photo.png", "warm.png", "--after", "grey.png", "-o", "a.png"}, 2, "need a folder");
  expectError({"grade", "photo.png", "--after", "none.png", "-o", "a.png"}, 1, "no such file");
  expectError({"grade", "none.png", "--after", "warm.png", "-o", "a.png"}, 1, "no such file");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "a.gif"}, 2, "cannot tell the format");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "photo.png", "--force"}, 2,
              "would replace the photo");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "grey.png"}, 1, "exists already");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "a.png", "--match", "hue"}, 2,
              "not \"hue\"");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "a.png", "--method", "best"}, 2,
              "covariance");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "a.png", "--amount", "300"}, 2, "0 to 200");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "a.png", "--blend", "softly"}, 2,
              "soft-light");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "a.png", "--inside", "black.png"}, 1,
              "nothing to grade");
  expectError({"grade", "photo.png", "--look", "bad.look.toml", "-o", "a.png"}, 2, "bad.look.toml, line 1");
  expectError({"grade", "photo.png", "--look", "bad.look.toml", "--after", "warm.png", "-o", "a.png"}, 2,
              "exclude each other");
  expectError({"grade", "photo.png", "--after", "warm.png", "-o", "a.png", "--metod", "x"}, 2,
              "did you mean --method?");
  fs::create_directory(folder / "other");
  fs::copy_file(folder / "photo.png", folder / "other" / "photo.png");
  expectError({"grade", "photo.png", "other/photo.png", "--after", "warm.png", "-o", "out/"}, 2,
              "two photos are called");
  expectError({"look"}, 2, "look needs a look");
  expectError({"look", "none.look.toml"}, 1, "none.look.toml");
  expectError({"look", "bad.look.toml"}, 2, "line");
  expectError({"look", "bad.look.toml", "-o", "a.txt"}, 2, "cannot tell the format");
}

}  // namespace
}  // namespace jugendstil
