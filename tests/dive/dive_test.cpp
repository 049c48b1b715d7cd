// SPDX-License-Identifier: Apache-2.0
#include "dive/dive.h"

#include <gtest/gtest.h>

#include <limits>

#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "clip/clip.h"
#include "dive/frames.h"
#include "film/journal.h"
#include "image/picture_file.h"
#include "learn/manner.h"
#include "support/clips.h"
#include "support/support.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;
using testing_support::contentOf;
using testing_support::sample;
using testing_support::smallChain;

class Dives : public testing::Test {
 protected:
  Dives() {
    setThreads(2);
    inputs.chain = &chain;
    inputs.start = sample(96, 80);
    inputs.output = (folder / "out.mkv").string();
    inputs.making = "a test";
    inputs.settings.bands = {{"", {{"two", 1}}}};
    set("length", "7");
    set("precision", "full");
    set("steps", "3");
    set("levels", "1");
    set("frame-steps", "2");
  }
  void set(const char* name, const char* text) { setDiveSetting(inputs.settings, name, text); }
  void paintAfter() {
    inputs.references = {{"", {{sample(70, 60, 5), 1}}}};
    set("by", "paint");
  }
  void quickPaint() {
    painter.net = painterNet(3);
    painter.settings.longEdge = 96;
    painter.references = {{sample(60, 60, 7), 1}};
    inputs.painters = {{"", &painter}};
    set("by", "quick");
  }
  std::vector<Image> frames() const {
    std::vector<Image> all;
    const auto clip = openClip(inputs.output);
    Image frame;
    while (clip->read(frame) == FrameState::read) all.push_back(frame);
    return all;
  }
  DiveResult dive() { return makeDive(inputs, {}); }

  // Stopped after every so many reports of progress, until it is done.
  int divedInPieces(int reports) {
    int runs = 0;
    for (; runs < 500; ++runs) {
      int left = reports + runs / 7;
      FilmCallbacks callbacks;
      callbacks.progress = [&](const FilmProgress&) {
        if (--left < 0) throw Stopped{};
      };
      if (makeDive(inputs, callbacks).finished) break;
    }
    return runs;
  }
  void expectSameInPieces(int reports) {
    ASSERT_TRUE(dive().finished);
    const std::string whole = contentOf(inputs.output);
    fs::remove(inputs.output);
    EXPECT_GT(divedInPieces(reports), 2);
    EXPECT_EQ(contentOf(inputs.output), whole);
    EXPECT_FALSE(fs::exists(workFolderFor(inputs.output)));
  }

  testing_support::TemporaryFolder folder;
  Chain chain = smallChain();
  QuickPainter painter;
  DiveInputs inputs;
};

TEST_F(Dives, StoppedAnywhereItGoesOnToTheSameBytes) {
  set("zoom", "1.03");
  set("turn", "1");
  expectSameInPieces(9);
}

TEST_F(Dives, PaintedItGoesOnToTheSameBytes) {
  paintAfter();
  set("length", "4");
  inputs.references.push_back({"3", {{sample(70, 60, 9), 1}}});
  expectSameInPieces(8);
}

TEST_F(Dives, ByAQuickPainterItGoesOnToTheSameBytes) {
  quickPaint();
  set("loop", "yes");
  expectSameInPieces(9);
}

TEST_F(Dives, WithNothingAskedForEveryFrameIsTheFirstToTheBit) {
  set("zoom", "1");
  set("strength", "0");
  ASSERT_TRUE(dive().finished);
  const auto all = frames();
  ASSERT_EQ(all.size(), 7U);
  for (const Image& frame : all) EXPECT_EQ(frame.pixels, all[0].pixels);
}

TEST_F(Dives, NorDoesBrushworkMoveWhereNothingIsAskedFor) {
  quickPaint();
  set("zoom", "1");
  set("strength", "0");
  set("length", "4");
  ASSERT_TRUE(dive().finished);
  const auto all = frames();
  for (const Image& frame : all) EXPECT_EQ(frame.pixels, all[0].pixels);
}

TEST_F(Dives, StrengthChangesWhatIsMade) {
  set("zoom", "1");
  set("strength", "0; 1=60");
  ASSERT_TRUE(dive().finished);
  const auto all = frames();
  EXPECT_GT(testing_support::distance(all[0], all[3]), 1e-4);
}

// Half of it white.
Image leftHalf() {
  Image mask(96, 80, 1);
  for (int y = 0; y < 80; ++y) {
    for (int x = 0; x < 48; ++x) mask.at(x, y, 0) = 1;
  }
  return mask;
}

double differenceIn(const Image& a, const Image& b, int fromX, int toX) {
  double sum = 0;
  for (int y = 0; y < a.height; ++y) {
    for (int x = fromX; x < toX; ++x) sum += std::abs(a.at(x, y, 1) - b.at(x, y, 1));
  }
  return sum / (a.height * (toX - fromX));
}

TEST_F(Dives, OutsideTheMaskFramesAreOnlyMoved) {
  inputs.inside = leftHalf();
  set("zoom", "1");
  set("length", "3");
  for (const bool quick : {false, true}) {
    if (quick) quickPaint();
    ASSERT_TRUE(dive().finished);
    const auto all = frames();
    ASSERT_EQ(all.size(), 3U);
    for (const Image& frame : all) {
      EXPECT_LT(differenceIn(frame, inputs.start, 50, 96), 0.5 / 255) << quick;
      EXPECT_GT(differenceIn(frame, inputs.start, 0, 46), 2.0 / 255) << quick;
    }
    fs::remove(inputs.output);
  }
}

TEST_F(Dives, OpacityLeavesPartOfWhatWasThere) {
  set("zoom", "1");
  set("length", "1");
  ASSERT_TRUE(dive().finished);
  const double full = differenceIn(frames()[0], inputs.start, 0, 96);
  fs::remove(inputs.output);
  set("opacity", "0.3");
  ASSERT_TRUE(dive().finished);
  EXPECT_NEAR(differenceIn(frames()[0], inputs.start, 0, 96) / full, 0.3, 0.06);
}

TEST_F(Dives, AFrameThatFailsIsMadeAgainThenFilledAndTheDiveGoesOn) {
  FilmCallbacks callbacks;
  callbacks.attempt = [](std::int64_t frame, int attempt) {
    if (frame == 2 && attempt == 0) throw Error("once");
    if (frame == 4) throw Error("always");
  };
  const DiveResult result = makeDive(inputs, callbacks);
  EXPECT_TRUE(result.finished);
  EXPECT_EQ(result.retried, std::vector<std::int64_t>{2});
  EXPECT_EQ(result.filled, std::vector<std::int64_t>{4});
  EXPECT_EQ(frames().size(), 7U);
}

TEST_F(Dives, ADiskThatFailsIsNoFailedFrame) {
  FilmCallbacks callbacks;
  callbacks.attempt = [](std::int64_t frame, int) {
    if (frame == 3) throw DiskError("the frame cannot be written", "no room");
  };
  EXPECT_THROW(makeDive(inputs, callbacks), DiskError);
  EXPECT_TRUE(dive().finished);
}

TEST_F(Dives, TroubleIsSeen) {
  const Image good = sample(96, 80);
  const Keel wanted = keelOf(good);
  EXPECT_EQ(troubleWith(good, good, wanted), "");
  Image bad = good;
  bad.pixels[7] = std::numeric_limits<float>::quiet_NaN();
  EXPECT_EQ(troubleWith(bad, good, wanted), "not a number");
  bad = good;
  for (std::size_t i = 0; i < bad.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) bad.pixels[3 * i + c] = (i + i / 96) % 2 == 0 ? 0.8F : 0.2F;
  }
  EXPECT_EQ(troubleWith(bad, good, wanted), "noise");
  Image other = good;
  for (float& v : other.pixels) v = 1 - 0.2F * v;
  EXPECT_EQ(troubleWith(other, good, wanted), "too far from the frame before");
}

TEST_F(Dives, ALoopsLastFrameMeetsItsFirst) {
  set("zoom", "1.02");
  set("length", "16");
  set("loop", "yes");
  ASSERT_TRUE(dive().finished);
  const auto looped = frames();
  set("loop", "no");
  inputs.output = (folder / "open.mkv").string();
  ASSERT_TRUE(dive().finished);
  const auto open = frames();
  const auto seam = [](const std::vector<Image>& all) {
    return testing_support::distance(all.back(), all.front()) / testing_support::distance(all[8], all[7]);
  };
  EXPECT_LT(seam(looped), 2);
  EXPECT_GT(seam(open), 2);
}

TEST_F(Dives, ComesOutOfNoise) {
  inputs.start = {};
  inputs.grey = true;
  set("long-edge", "96");
  ASSERT_TRUE(dive().finished);
  EXPECT_EQ(frames()[0].width, 96);
}

TEST_F(Dives, AClipsFramesAreMixedIn) {
  testing_support::ClipRecipe recipe;
  recipe.frames = 7;
  recipe.width = 96;
  recipe.height = 80;
  testing_support::writeClip((folder / "clip.mkv").string(), recipe, testing_support::gliding(96, 80, 4, 0));
  inputs.clip = (folder / "clip.mkv").string();
  const auto clip = openClip(inputs.clip);
  ASSERT_EQ(clip->read(inputs.start), FrameState::read);
  set("strength", "0");
  set("length", "auto");
  set("source", "100");
  ASSERT_TRUE(dive().finished);
  const auto all = frames();
  Image last;
  clip->seek(6);
  ASSERT_EQ(clip->read(last), FrameState::read);
  EXPECT_LT(testing_support::distance(all[6], last), 1e-4);
  EXPECT_GT(testing_support::distance(all[6], all[0]), 1e-3);
}

TEST_F(Dives, GoesFromOneReferenceToAnother) {
  set("zoom", "1");
  set("ease", "linear");
  set("brushwork", "no");
  paintAfter();
  Image dark = sample(64, 64, 5);
  Image light = dark;
  for (float& v : dark.pixels) v *= 0.4F;
  for (float& v : light.pixels) v = 0.5F + 0.5F * v;
  inputs.references = {{"", {{dark, 1}}}, {"6", {{light, 1}}}};
  ASSERT_TRUE(dive().finished);
  const auto all = frames();
  EXPECT_GT(keelOf(all[6]).lightness, keelOf(all[0]).lightness + 0.1);
}

}  // namespace
}  // namespace jugendstil
