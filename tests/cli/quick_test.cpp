// SPDX-License-Identifier: Apache-2.0
// `--quick` and `--start quick`, driven from outside.
#include <gtest/gtest.h>

#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::distance;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::strokes;
using testing_support::writeContent;

class QuickProgram : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "across.png", strokes(96, 96, true), Depth::eight);
    writePicture(folder / "along.png", strokes(96, 96, false), Depth::eight);
    writePicture(folder / "photo.png", sample(128, 96, 1), Depth::eight);
  }
  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }
  RunResult paint(const std::string& output, const std::vector<std::string>& more) const {
    std::vector<std::string> words{"paint", "photo.png", "-o", output};
    words.insert(words.end(), more.begin(), more.end());
    return run(words);
  }
  void expectError(const std::vector<std::string>& more, const std::string& part) const {
    std::vector<std::string> words{"paint", "photo.png", "-o", "o.png"};
    words.insert(words.end(), more.begin(), more.end());
    testing_support::expectError(words, folder.path, 2, part);
  }
  Image picture(const std::string& name) const { return rgbOf(readPicture(folder / name).image); }
  testing_support::TemporaryFolder folder;
};

TEST_F(QuickProgram, PaintsAtOnceAfterAnyReferenceAndDoesItAgain) {
  const RunResult r = paint("a.png", {"--after", "across.png", "--quick"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.err.find("after across.png: 128x96, at once"), std::string::npos) << r.err;
  EXPECT_EQ(run({"redo", "a.recipe.toml", "-q"}).code, 0);
  EXPECT_EQ(contentOf(folder / "a.png"), contentOf(folder / "a-again.png"));
  EXPECT_EQ(paint("b.png", {"--after", "along.png", "--quick", "-q"}).code, 0);
  EXPECT_EQ(paint("free.png", {"--after", "across.png", "--quick", "--likeness", "20", "-q"}).code, 0);
  EXPECT_GT(distance(picture("a.png"), picture("b.png")), 1e-3);
  EXPECT_GT(distance(picture("a.png"), picture("free.png")), 1e-4);
  EXPECT_EQ(paint("trim.png", {"--after", "across.png", "--quick", "--trim", "0.2", "-q"}).code, 0);
  EXPECT_NE(contentOf(folder / "trim.recipe.toml").find("trim = '0.2'"), std::string::npos);
}

TEST_F(QuickProgram, HasTablesPartsAndSizes) {
  EXPECT_EQ(paint("t/", {"--after", "across.png", "--after", "along.png", "--each", "--vary",
                         "likeness=20,80", "--quick", "-q"})
                .code,
            0);
  EXPECT_TRUE(fs::exists(folder / "t/sheet.png"));
  EXPECT_TRUE(fs::exists(folder / "t/photo-after-along-likeness-80.png"));
  writeContent(
      folder / "left.svg",
      "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 128 96'><rect width='50' height='96'/></svg>");
  EXPECT_EQ(
      paint("part.png", {"--part", "left.svg=across.png", "--part", "left.svg=along.png@2", "--quick", "-q"})
          .code,
      0);
  const Image parted = picture("part.png");
  EXPECT_EQ(crop(parted, 60, 0, 68, 96).pixels, crop(picture("photo.png"), 60, 0, 68, 96).pixels);
  EXPECT_NE(crop(parted, 0, 0, 40, 96).pixels, crop(picture("photo.png"), 0, 0, 40, 96).pixels);
  const RunResult dry =
      paint("large.png", {"--after", "across.png", "--quick", "--long-edge", "600", "--dry-run"});
  EXPECT_NE(dry.out.find("600x450, 384x288 at once, then the reference's brush-work"), std::string::npos)
      << dry.out;
}

TEST_F(QuickProgram, BeginsWhatIsOptimised) {
  const RunResult dry = paint("o.png", {"--after", "across.png", "--start", "quick", "--dry-run"});
  EXPECT_NE(dry.out.find("2 levels, 92 steps"), std::string::npos) << dry.out << dry.err;
  const std::vector<std::string> few{"--after", "across.png", "--levels", "1", "--steps", "1", "-q"};
  const auto with = [&](const std::string& start) {
    std::vector<std::string> words = few;
    words.insert(words.end(), {"--start", start});
    return words;
  };
  EXPECT_EQ(paint("photo_first.png", with("photo")).code, 0);
  EXPECT_EQ(paint("quick_first.png", with("quick")).code, 0);
  EXPECT_EQ(paint("quick.png", {"--after", "across.png", "--quick", "-q"}).code, 0);
  EXPECT_LT(distance(picture("quick_first.png"), picture("quick.png")),
            distance(picture("photo_first.png"), picture("quick.png")));
  EXPECT_NE(contentOf(folder / "quick_first.recipe.toml").find("start = 'quick'"), std::string::npos);
}

TEST_F(QuickProgram, PaintsFilmsAndBeginsThem) {
  testing_support::ClipRecipe clip;
  clip.width = 128;
  clip.height = 96;
  clip.frames = 3;
  testing_support::writeClip(folder / "clip.mkv", clip, testing_support::gliding(128, 96, 1, 0));
  const RunResult r = run({"film", "clip.mkv", "--after", "across.png", "--quick", "-o", "out.mkv"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("out.mkv: 128x96, 3 frames, painted in"), std::string::npos) << r.out;
  const RunResult dry =
      run({"film", "clip.mkv", "--after", "across.png", "--start", "quick", "-o", "o.mkv", "--dry-run"});
  EXPECT_EQ(dry.code, 0) << dry.err;
  testing_support::expectError({"film", "clip.mkv", "--quick", "-o", "o.mkv", "--key", "0=photo.png"},
                               folder.path, 2, "--quick paints after references");
  testing_support::expectError(
      {"film", "clip.mkv", "--after", "across.png", "--quick", "--frame-steps", "9", "-o", "o.mkv"},
      folder.path, 2, "goes without --quick");
}

TEST_F(QuickProgram, SaysWhatDoesNotGoTogether) {
  expectError({"--after", "across.png", "--quick", "--steps", "9"}, "--steps goes without --quick");
  expectError({"--after", "across.png", "--quick", "--vary", "steps=9,12"},
              "--vary steps goes without --quick");
  expectError({"--after", "across.png", "--quick", "--measure", "sliced"}, "--measure goes without --quick");
  expectError({"--after", "across.png", "--quick", "--chart", "c.png"}, "--chart draws the steps");
  expectError({"--after", "across.png", "--quick", "--with", "p.onnx"},
              "--with and --quick both paint at once");
  expectError({"--quick"}, "paint needs a reference");
}

}  // namespace
}  // namespace jugendstil
