// SPDX-License-Identifier: Apache-2.0
// `lay`, driven from outside.
#include <gtest/gtest.h>

#include "image/picture_file.h"
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
