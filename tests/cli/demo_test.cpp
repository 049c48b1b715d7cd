// SPDX-License-Identifier: Apache-2.0
#include <gtest/gtest.h>

#include <algorithm>

#include "cli/demo_scale.h"
#include "clip/clip.h"
#include "image/picture_file.h"
#include "support/browser.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil::cli {
namespace {

using testing_support::contentOf;
using testing_support::filesIn;
using testing_support::inBrowser;
using testing_support::RunResult;

// A machine that takes so many seconds for a painting of 768 pixels, and a tenth of that for a frame of that
// size.
DemoPace machineOf(double seconds) {
  const auto part = [](int edge) { return edge * edge / (768.0 * 768); };
  DemoPace pace;
  pace.painting = [=](const DemoScale& s) { return seconds * part(s.longEdge); };
  pace.grading = 10;
  pace.film = [=](const DemoScale& s) {
    return seconds * part(s.filmEdge) * (1 + 0.1 * (s.frames == 0 ? 96 : s.frames));
  };
  return pace;
}

TEST(DemoScale, TheSlowerTheMachineTheSmallerTheDemoThatFits) {
  int before = 769;
  for (const double seconds : {5.0, 30.0, 60.0, 120.0, 240.0}) {
    const DemoPace pace = machineOf(seconds);
    DemoScale scale = withPaintings({}, pace, 45, 300);
    scale = withFilm(scale, pace, 300 - paintingSeconds(scale, pace) - pace.grading);
    EXPECT_LE(pace.painting(scale), 45) << seconds;
    EXPECT_LE(secondsOf(scale, pace), 300) << seconds;
    EXPECT_LE(scale.longEdge, before);
    before = scale.longEdge;
  }
  EXPECT_LT(before, 400);
  const DemoScale quick = withPaintings({}, machineOf(5), 45, 300);
  EXPECT_EQ(quick.longEdge, 768);
  EXPECT_EQ(quick.photos, 2);
  EXPECT_EQ(withFilm(quick, machineOf(5), 200).frames, 0) << "all of the clip";
}

TEST(DemoScale, APainterIsLearnedAndDivesAreMadeWhereAllIsAskedFor) {
  DemoPace pace = machineOf(5);
  DemoScale scale;
  const double without = secondsOf(scale, pace);
  pace.learning = 500;
  pace.diving = 300;
  EXPECT_EQ(secondsOf(scale, pace), without + 800);
  scale.all = false;
  EXPECT_EQ(secondsOf(scale, pace), without);
}

TEST(DemoScale, WhatTakesLongerThanForetoldLeavesTheRestOut) {
  DemoScale scale;
  scale.longEdge = 384;
  const DemoPace pace = machineOf(160);
  EXPECT_EQ(photosWithin(scale, pace, 300), 2);
  EXPECT_EQ(photosWithin(scale, pace, 200), 1);
  const double one = pace.painting(scale);
  DemoScale least = withFilm(scale, pace, 0);
  const double needed = one + pace.grading + pace.film(least);
  EXPECT_TRUE(timeForPainting(scale, pace, needed + 1));
  EXPECT_FALSE(timeForPainting(scale, pace, needed - 1)) << "a painting took far longer than foretold";
  EXPECT_LT(withFilm(scale, pace, 60).frames, withFilm(scale, pace, 150).frames);
}

class DemoProgram : public testing::Test {
 protected:
  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(DemoProgram, PaintsGradesAndShowsAllOnOnePage) {
  const RunResult r = run({"demo", "look", "--long-edge", "64", "--steps", "1", "--frames", "5", "--quiet"});
  ASSERT_EQ(r.code, 0) << r.err;
  const auto files = filesIn(folder / "look");
  const auto count = [&](const std::string& end) {
    return std::count_if(files.begin(), files.end(), [&](const std::string& f) { return f.ends_with(end); });
  };
  EXPECT_EQ(count(".recipe.toml"),
            30);  // six paintings, three at once, five grades, a series of them, nine weaves, four amplified,
                  // two films
  EXPECT_EQ(count(".chart.png"), 6);
  EXPECT_EQ(count(".mp4"), 2);
  EXPECT_EQ(openClip((folder / "look" / "pond-after-amber_dusk.mp4").string())->info().times.size(), 5U);
  EXPECT_EQ(count("-together-noon.jpg"), 5);
  EXPECT_EQ(count(".look.toml"), 6);
  EXPECT_GT(readPicture(folder / "look" / "sheet.png").image.height, 1000);
  EXPECT_GT(readPicture(folder / "look" / "grade-sheet.png").image.width, 1900);
  EXPECT_GT(readPicture(folder / "look" / "weave-sheet.png").image.width, 1200);
  EXPECT_GT(readPicture(folder / "look" / "amplify-sheet.png").image.width, 1000);
  EXPECT_GT(readPicture(folder / "look" / "film-sheet.png").image.width, 1900);
  EXPECT_GT(readPicture(folder / "look" / "shelf-sheet.png").image.width, 1300);
  EXPECT_NE(contentOf(folder / "look" / "shelf.html").find("--after moon_linocut"), std::string::npos);
  EXPECT_TRUE(r.out.ends_with("look/index.html: all of it on one page, for a browser\n")) << r.out;
  const std::string told = inBrowser(contentOf(folder / "look" / "index.html"), R"(
    const tell = () => {
      document.getElementById("told").textContent = [[...document.images].every((i) => i.naturalWidth > 0),
        document.querySelectorAll(".stage").length, document.querySelectorAll("video").length,
        document.querySelectorAll("code").length].join(" ");
    };
    if (document.readyState === "complete") tell(); else addEventListener("load", tell);
  )",
                                     "1280,800", folder / "look");
  EXPECT_EQ(told, "true 21 2 31");
  // The commands that the page tells work in its folder, and make what is shown there.
  const std::string painted = contentOf(folder / "look" / "palm_house-after-moon_linocut.png");
  const std::string again = (folder / "look" / "again.png").string();
  const RunResult command =
      run({"paint", "look/photos/palm_house.jpg", "--after", "look/references/moon_linocut.jpg",
           "--long-edge", "64", "--steps", "1", "-q", "-o", again});
  ASSERT_EQ(command.code, 0) << command.err;
  EXPECT_EQ(contentOf(again), painted);
  EXPECT_EQ(run({"demo", "look", "--steps", "1"}).code, 1) << "must not overwrite";
}

TEST_F(DemoProgram, SaysFirstHowLongItTakesAndWhatAllWouldAdd) {
  const RunResult r = run({"demo", "look", "--dry-run"});
  ASSERT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("the demo: "), std::string::npos) << r.out;
  EXPECT_NE(
      r.out.find(
          "with --all: 6 paintings of 768 pixels, ten graded photos, nine woven pieces, four amplified, all "
          "of the clip at 480, all of it by a quick painter, and two dives; about "),
      std::string::npos)
      << r.out;
  EXPECT_FALSE(std::filesystem::exists(folder / "look"));
  const RunResult whole = run({"demo", "look", "--all", "--dry-run"});
  EXPECT_NE(whole.out.find("the demo: 6 paintings of 768 pixels"), std::string::npos) << whole.out;
  std::filesystem::create_directory(folder / "look");
  testing_support::writeContent(folder / "look" / "pond.painter.onnx", "somebody's own");
  testing_support::expectError({"demo", "look", "--all"}, folder.path, 1, "pond.painter.onnx exists");
  testing_support::expectError({"demo", "other", "--frames", "0.5"}, folder.path, 2, "frames");
  testing_support::expectError({"demo", "other", "--steps", "many"}, folder.path, 2, "steps");
}

}  // namespace
}  // namespace jugendstil::cli
