// SPDX-License-Identifier: Apache-2.0
// `compare` on pictures, driven from outside. For clips see film_test.cpp.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "clip/clip.h"
#include "image/picture_file.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::sample;
using testing_support::writeContent;

class CompareProgram : public testing::Test {
 protected:
  void SetUp() override {
    writePicture(folder / "a.png", sample(64, 48, 1), Depth::eight);
    writePicture(folder / "b.png", sample(64, 48, 2), Depth::eight);
    writePicture(folder / "half.png", sample(32, 24, 2), Depth::eight);
    writePicture(folder / "tall.png", sample(40, 64, 3), Depth::eight);
  }
  RunResult compare(std::vector<std::string> words) const {
    words.insert(words.begin(), "compare");
    return testing_support::runProgram(words, folder.path);
  }
  void expectError(std::vector<std::string> words, int code, const std::string& part) const {
    words.insert(words.begin(), "compare");
    testing_support::expectError(words, folder.path, code, part);
  }
  Image made(const std::string& name) const { return readPicture(folder / name).image; }

  testing_support::TemporaryFolder folder;
};

TEST_F(CompareProgram, LaysPicturesOfAnySizeSideBySide) {
  const RunResult r = compare({"a.png", "tall.png", "half.png", "-o", "out.png"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(r.out, "out.png: beside of a.png, tall.png, half.png\n");
  EXPECT_GT(made("out.png").width, 3 * 64);
  EXPECT_EQ(compare({"a.png", "b.png", "-o", "sheet.png", "--view", "sheet"}).code, 0);
}

TEST_F(CompareProgram, SplitsAtALineAndBringsToOneSize) {
  const RunResult r = compare({"a.png", "half.png", "-o", "out.png", "--view", "split", "--at", "25"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(r.err, "note: half.png is brought from 32x24 to 64x48\n");
  const Image out = made("out.png");
  const Image a = made("a.png");
  ASSERT_EQ(out.width, 64);
  EXPECT_EQ(out.at(3, 9, 1), a.at(3, 9, 1));
  EXPECT_NE(out.at(40, 9, 1), a.at(40, 9, 1));
  ASSERT_EQ(compare({"a.png", "b.png", "-o", "level.png", "--view", "split", "--level", "--soft", "8"}).code,
            0);
  EXPECT_EQ(made("level.png").at(50, 4, 0), a.at(50, 4, 0));
  EXPECT_EQ(made("level.png").at(50, 44, 0), made("b.png").at(50, 44, 0));
}

TEST_F(CompareProgram, ShowsDifferencesAndMagnifiedPlaces) {
  ASSERT_EQ(compare({"a.png", "a.png", "-o", "same.png", "--view", "difference"}).code, 0);
  EXPECT_EQ(made("same.png").at(20, 20, 0), 0.0F);
  ASSERT_EQ(compare({"a.png", "b.png", "-o", "other.png", "--view", "difference", "--gain", "1"}).code, 0);
  EXPECT_NEAR(made("other.png").at(20, 20, 1),
              std::abs(made("a.png").at(20, 20, 1) - made("b.png").at(20, 20, 1)), 0.003F);
  const RunResult r = compare(
      {"a.png", "b.png", "-o", "crops.png", "--crop", "4,4,20,10", "--crop", "30,20,20,10", "--times", "5"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("crops of a.png, b.png"), std::string::npos);
  EXPECT_GE(made("crops.png").width, 200);
  EXPECT_GE(made("crops.png").height, 100);
}

TEST_F(CompareProgram, SlidesAsAFilmAndAsAGif) {
  RunResult r = compare({"a.png", "b.png", "-o", "slide.webm"});
  EXPECT_EQ(r.code, 0) << r.err;
  const auto clip = openClip((folder / "slide.webm").string());
  EXPECT_EQ(clip->info().times.size(), 96U);
  Image first;
  ASSERT_EQ(clip->read(first), FrameState::read);
  EXPECT_NEAR(first.at(10, 24, 1), made("a.png").at(10, 24, 1), 0.08F);
  EXPECT_NEAR(first.at(54, 24, 1), made("b.png").at(54, 24, 1), 0.08F);
  r = compare({"a.png", "b.png", "-o", "slide.gif", "-q"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(contentOf(folder / "slide.gif").substr(0, 6), "GIF89a");
  EXPECT_EQ(openClip((folder / "slide.gif").string())->info().times.size(), 36U);
}

TEST_F(CompareProgram, MakesAPageWithNumbers) {
  const RunResult r = compare({"a.png", "b.png", "half.png", "--after", "tall.png@2", "-o", "page.html"});
  EXPECT_EQ(r.code, 0) << r.err;
  const std::string page = contentOf(folder / "page.html");
  EXPECT_NE(page.find("<title>a.png, b.png, half.png</title>"), std::string::npos);
  EXPECT_NE(page.find("<td>1.000</td>"), std::string::npos);  // of a.png with itself
}

TEST_F(CompareProgram, PrintsNumbersForPeopleAndPrograms) {
  const RunResult plain = compare({"a.png", "b.png"});
  EXPECT_EQ(plain.code, 0) << plain.err;
  EXPECT_NE(plain.out.find("drawing similarity\na.png        0.000      1.000\n"), std::string::npos)
      << plain.out;
  const RunResult r = compare({"a.png", "b.png", "--photo", "b.png", "-a", "a.png", "--progress", "json"});
  EXPECT_EQ(r.code, 0) << r.err;
  const auto object = nlohmann::json::parse(r.out);
  ASSERT_EQ(object["pictures"].size(), 2U);
  EXPECT_NEAR(object["pictures"][1]["similarity"].get<double>(), 1, 1e-9);
  EXPECT_LT(object["pictures"][0]["style"]["fine"].get<double>(), 1e-3);
  EXPECT_GT(object["pictures"][1]["style"]["fine"].get<double>(), 0.01);
  EXPECT_NEAR(object["pictures"][0]["colour"].get<double>(), 0, 1e-6);
}

TEST_F(CompareProgram, TellsHowAPaintingWasMade) {
  ASSERT_EQ(testing_support::runProgram({"paint", "a.png", "--after", "tall.png", "-o", "p.png", "--steps",
                                         "2", "--levels", "1", "--likeness", "20"},
                                        folder.path)
                .code,
            0);
  ASSERT_EQ(compare({"a.png", "p.png", "-o", "page.html"}).code, 0);
  EXPECT_NE(contentOf(folder / "page.html").find("after tall.png, likeness 20"), std::string::npos);
}

TEST_F(CompareProgram, ADryRunWritesNothing) {
  const auto before = testing_support::filesIn(folder.path);
  const RunResult r = compare({"a.png", "b.png", "-o", "o.html", "--numbers", "--dry-run"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(r.out, "would print numbers of a.png, b.png\nwould write o.html: page of a.png, b.png\n");
  EXPECT_EQ(testing_support::filesIn(folder.path), before);
}

TEST_F(CompareProgram, SaysWhatIsWrong) {
  expectError({"a.png"}, 2, "two pictures or more");
  expectError({"a.png", "gone.png"}, 1, "gone.png");
  expectError({"a.png", "tall.png", "-o", "o.html"}, 1, "has not the format of a.png");
  expectError({"a.png", "b.png", "half.png", "-o", "o.gif"}, 2, "of two pictures, not of 3");
  expectError({"a.png", "b.png", "-o", "o.png", "--view", "page"}, 2, "a page is .html");
  expectError({"a.png", "b.png", "-o", "o.html", "--view", "crops"}, 2, "cannot be written as o.html");
  expectError({"a.png", "b.png", "-o", "o.png", "--view", "peek"}, 2, "view");
  expectError({"a.png", "b.png", "-o", "o.bmp"}, 2, ".bmp");
  expectError({"a.png", "b.png", "-o", "o.png", "--crop", "1,2,3"}, 2, "X,Y,WIDTH,HEIGHT");
  expectError({"a.png", "b.png", "-o", "o.png", "--crop", "60,40,30,30"}, 1, "cannot crop");
  expectError({"a.png", "b.png", "-o", "o.png", "--at", "120"}, 2, "--at");
  expectError({"a.png", "b.png", "-o", "a.png"}, 1, "exists already");
  expectError({"a.png", "b.png", "--source", "c.mkv"}, 2, "belongs to --steadiness");
}

}  // namespace
}  // namespace jugendstil
