// SPDX-License-Identifier: Apache-2.0
// `lay`, driven from outside.
#include <gtest/gtest.h>

#include "clip/clip.h"
#include "image/picture_file.h"
#include "support/clips.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::distance;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::writeContent;

class LayProgram : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "gate.png", sample(60, 40, 1), Depth::sixteen);
    writePicture(folder / "oil.png", sample(60, 40, 2), Depth::sixteen);
    writePicture(folder / "lino.png", sample(60, 40, 3), Depth::sixteen);
    writeContent(folder / "left.svg",
                 "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"60\" height=\"40\">"
                 "<rect width=\"30\" height=\"40\" fill=\"#fff\"/></svg>");
  }
  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }
  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }
  Image picture(const char* name) const { return readPicture(folder / name).image; }

  testing_support::TemporaryFolder folder;
};

TEST_F(LayProgram, OptionsBelongToThePaintingBeforeThem) {
  const RunResult r = run(
      {"lay", "gate.png", "oil.png", "--mask", "left.svg", "lino.png", "--opacity", "0", "-o", "out.png"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(r.out, "out.png: 60x40\n");
  const Image out = picture("out.png");
  EXPECT_NEAR(out.at(10, 20, 0), sample(60, 40, 2).at(10, 20, 0), 1e-4);
  EXPECT_NEAR(out.at(50, 20, 0), sample(60, 40, 1).at(50, 20, 0), 1e-4);
  // Before the first they are for all that have no own.
  EXPECT_EQ(
      run({"lay", "gate.png", "--opacity", "0", "oil.png", "lino.png", "--opacity", "100", "-o", "two.png"})
          .code,
      0);
  EXPECT_LT(distance(picture("two.png"), sample(60, 40, 3)), 1e-9);
}

TEST_F(LayProgram, BrushesAwayAndBack) {
  EXPECT_EQ(run({"lay", "gate.png", "oil.png", "--brush-away", "left.svg", "-o", "away.png"}).code, 0);
  EXPECT_NEAR(picture("away.png").at(10, 20, 1), sample(60, 40, 1).at(10, 20, 1), 1e-4);
  EXPECT_EQ(run({"lay", "gate.png", "oil.png", "--brush-away", "left.svg", "--brush-back", "left.svg@100",
                 "-o", "back.png"})
                .code,
            0);
  EXPECT_LT(distance(picture("back.png"), sample(60, 40, 2)), 1e-9);
}

TEST_F(LayProgram, LaysFilmsOverTheirClip) {
  testing_support::ClipRecipe recipe;
  recipe.format = "yuv444p";
  recipe.frames = 4;
  const auto still = [](unsigned seed) { return [=](int) { return sample(64, 48, seed); }; };
  writeClip(folder / "clip.mkv", recipe, still(1));
  writeClip(folder / "film.mkv", recipe, still(2));
  writeContent(folder / "half.svg",
               "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"64\" height=\"48\">"
               "<rect width=\"32\" height=\"48\" fill=\"#fff\"/></svg>");
  const RunResult r = run({"lay", "clip.mkv", "film.mkv", "--brush-away", "half.svg", "-o", "out.mkv"});
  ASSERT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(r.out, "out.mkv: 64x48, 4 frames\n");
  const auto out = openClip((folder / "out.mkv").string());
  Image frame;
  for (int f = 0; f < 4; ++f) ASSERT_EQ(out->read(frame), FrameState::read);
  EXPECT_NEAR(frame.at(8, 20, 1), sample(64, 48, 1).at(8, 20, 1), 0.03F);
  EXPECT_NEAR(frame.at(56, 20, 1), sample(64, 48, 2).at(56, 20, 1), 0.03F);
  recipe.frames = 3;
  writeClip(folder / "short.mkv", recipe, still(2));
  expectError({"lay", "clip.mkv", "short.mkv", "-o", "x.mkv"}, 1, "3 frames, the clip 4");
  expectError({"lay", "clip.mkv", "-o", "x.mkv"}, 2, "a clip and a film");
  expectError({"lay", "clip.mkv", "film.mkv", "-o", "x.png"}, 2, "x.png");
}

TEST_F(LayProgram, ChangesLayersOfAFile) {
  ASSERT_EQ(run({"lay", "gate.png", "oil.png", "--mask", "left.svg", "lino.png", "--opacity", "60", "--blend",
                 "multiply", "-o", "work.ora"})
                .code,
            0);
  const RunResult listed = run({"lay", "work.ora"});
  EXPECT_EQ(listed.out,
            "work.ora: 60x40, from the top:\n  lino: multiply, opacity 60 %\n  oil: normal, opacity 100 %\n  "
            "photo: normal, opacity 100 %\n");
  // As it was, in one picture.
  ASSERT_EQ(run({"lay", "work.ora", "-o", "flat.png"}).code, 0);
  ASSERT_EQ(run({"lay", "gate.png", "oil.png", "--mask", "left.svg", "lino.png", "--opacity", "60", "--blend",
                 "multiply", "-o", "once.png"})
                .code,
            0);
  EXPECT_LT(distance(picture("flat.png"), picture("once.png")), 2e-5);
  // Changed by name, written back, and changed again.
  ASSERT_EQ(run({"lay", "work.ora", "--layer", "lino", "--opacity", "0", "--layer", "oil", "--opacity", "50",
                 "-o", "next.ora"})
                .code,
            0);
  EXPECT_NE(run({"lay", "next.ora"}).out.find("lino: multiply, opacity 0 %\n  oil: normal, opacity 50 %"),
            std::string::npos);
  ASSERT_EQ(run({"lay", "next.ora", "--layer", "oil", "--opacity", "1", "--brush-away", "left.svg", "-o",
                 "photo.png"})
                .code,
            0);
  EXPECT_LT(distance(picture("photo.png"), sample(60, 40, 1)), 2e-5);
  // What was brushed away once can be brushed back in the file itself.
  ASSERT_EQ(run({"lay", "gate.png", "oil.png", "--brush-away", "left.svg", "-o", "away.ora"}).code, 0);
  expectError({"lay", "away.ora", "--layer", "oil", "--brush-back", "left.svg", "-o", "away.ora"}, 1,
              "--force");
  ASSERT_EQ(
      run({"lay", "away.ora", "--layer", "oil", "--brush-back", "left.svg", "-o", "away.ora", "--force"})
          .code,
      0);
  ASSERT_EQ(run({"lay", "away.ora", "-o", "back.png"}).code, 0);
  EXPECT_LT(distance(picture("back.png"), sample(60, 40, 2)), 2e-5);
  expectError({"lay", "work.ora", "--layer", "oli", "--opacity", "0", "-o", "x.png"}, 2,
              "did you mean \"oil\"");
  expectError({"lay", "work.ora", "--opacity", "0", "-o", "x.png"}, 2, "Put --layer NAME before it");
  expectError({"lay", "work.ora", "oil", "-o", "x.png"}, 2, "are named by --layer");
  expectError({"lay", "gate.png", "oil.png", "--layer", "oil", "-o", "x.png"}, 2, "of a file in layers");
  writeContent(folder / "bad.ora", testing_support::contentOf(folder / "work.ora").substr(0, 3000));
  expectError({"lay", "bad.ora", "-o", "x.png"}, 1, "bad.ora");
}

TEST_F(LayProgram, SaysWhatIsWrongInOneLine) {
  expectError({"lay", "gate.png", "-o", "out.png"}, 2, "lay needs a photo and a painting");
  expectError({"lay", "gate.png", "oil.png"}, 2, "add -o OUT.png");
  expectError({"lay", "gate.png", "oil.png", "--opacity", "much", "-o", "out.png"}, 2, "opacity");
  expectError({"lay", "gate.png", "oil.png", "--blend", "multipy", "-o", "out.png"}, 2, "multiply");
  expectError({"lay", "gate.png", "oil.png", "--mask", "gone.png", "-o", "out.png"}, 1, "gone.png");
  expectError({"lay", "gate.png", "oil.png", "-o", "gate.png", "--force"}, 2, "would replace");
  writeContent(folder / "out.png", "mine");
  expectError({"lay", "gate.png", "oil.png", "-o", "out.png"}, 1, "--force");
  EXPECT_EQ(testing_support::contentOf(folder / "out.png"), "mine");
}

}  // namespace
}  // namespace jugendstil
