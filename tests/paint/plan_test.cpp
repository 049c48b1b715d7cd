// SPDX-License-Identifier: Apache-2.0
#include "paint/plan.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

PaintPlan plan(Size photo, const PaintSettings& settings = {}) {
  return planPainting(photo, settings, testing_support::smallChain());
}

TEST(Plan, DefaultSizeIsThePhotosOwnUpTo1024) {
  EXPECT_EQ(plan({640, 480}).size().width, 640);
  EXPECT_EQ(plan({4000, 3000}).size().width, 1024);
  EXPECT_EQ(plan({3000, 4000}).size().height, 1024);
}

TEST(Plan, LossesAreOptimisedUpToTheWorkingEdge) {
  const PaintPlan usual = plan({4000, 3000});
  EXPECT_EQ(usual.levels.back().picture.width, 512);
  EXPECT_EQ(usual.levels.back().picture.height, 384);
  // First, in two stages, the finer detail of what was optimised, then what lies beyond it.
  ASSERT_EQ(usual.enlarging.size(), 3U);
  EXPECT_EQ(usual.softened.width, 213);
  EXPECT_EQ(usual.enlarging[1].width, 512);
  // By area: a panorama is not to be a ribbon of a few pixels.
  EXPECT_GT(plan({6000, 500}).levels.back().picture.height, 80);
  // What is small is optimised at its own size.
  EXPECT_EQ(plan({500, 380}).levels.back().picture.width, 500);
  EXPECT_EQ(plan({500, 380}).enlarging.size(), 2U);
  // There the subject needs half of its detail.
  EXPECT_EQ(plan({300, 300}).softened.width, 150);
  PaintSettings settings;
  settings.workingEdge = 800;
  EXPECT_EQ(plan({4000, 3000}, settings).levels.back().picture.width, 800);
  EXPECT_LT(usual.work(), plan({4000, 3000}, settings).work());
  settings.workingEdge = 2000;
  EXPECT_EQ(plan({4000, 3000}, settings).levels.back().picture.width, 1024);
  EXPECT_EQ(plan({4000, 3000}, settings).enlarging.size(), 2U);
}

TEST(Plan, WithoutBrushworkAllIsOptimised) {
  PaintSettings settings;
  settings.brushwork = false;
  EXPECT_EQ(plan({4000, 3000}, settings).levels.back().picture.width, 1024);
  EXPECT_TRUE(plan({4000, 3000}, settings).enlarging.empty());
  settings.finish = true;
  settings.longEdge = 400;
  EXPECT_EQ(plan({1500, 1000}, settings).levels.back().picture.width, 1500);
  settings.workingEdge = 500;
  try {
    plan({1500, 1000}, settings);
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_NE(std::string(e.what()).find("leave one of the two out"), std::string::npos) << e.what();
  }
}

TEST(Plan, APictureTooSmallToBeSoftenedKeepsItsDetail) {
  const PaintPlan p = plan({200, 30});
  EXPECT_TRUE(p.enlarging.empty());
  EXPECT_EQ(p.softened.width, 200);
}

TEST(Plan, LevelsGrowAndCanvasesHoldThemWithAMargin) {
  for (const Size photo : {Size{1280, 853}, Size{200, 900}, Size{6000, 500}, Size{40, 30}, Size{16, 16}}) {
    const PaintPlan p = plan(photo);
    int last = 0;
    for (const LevelPlan& level : p.levels) {
      EXPECT_EQ(level.canvas.width % 16, 0);
      EXPECT_EQ(level.canvas.height % 16, 0);
      EXPECT_GE(level.left, 16);
      EXPECT_GE(level.canvas.width - level.picture.width - level.left, 16);
      EXPECT_GE(std::min(level.picture.width, level.picture.height), 16);
      EXPECT_GE(level.picture.width, last);
      last = level.picture.width;
    }
  }
}

// What it replaces needs no steps; where nothing is laid in, all of it has to be optimised.
TEST(Plan, BrushworkNeedsFewerStepsBeneathIt) {
  PaintSettings settings;
  const auto stepsOf = [&] {
    std::vector<int> steps;
    for (const LevelPlan& level : plan({600, 400}, settings).levels) steps.push_back(level.steps);
    return steps;
  };
  EXPECT_EQ(stepsOf(), (std::vector{60, 50, 40}));
  settings.brushwork = false;
  EXPECT_EQ(stepsOf(), (std::vector{120, 100, 150}));
}

TEST(Plan, StepsAndLevelsMustAgree) {
  PaintSettings settings;
  settings.levels = 2;
  settings.steps = {10, 20};
  EXPECT_EQ(plan({600, 400}, settings).levels[1].steps, 20);
  settings.steps = {7};
  EXPECT_EQ(plan({600, 400}, settings).levels[0].steps, 7);
  settings.steps = {1, 2, 3};
  EXPECT_THROW(plan({600, 400}, settings), UsageError);
}

TEST(Plan, TooSmallIsRefusedWithTheLimit) {
  try {
    plan({15, 400});
    FAIL();
  } catch (const Error& e) {
    EXPECT_NE(std::string(e.what()).find("15x400"), std::string::npos);
  }
  PaintSettings settings;
  settings.longEdge = 32;
  EXPECT_THROW(plan({6000, 500}, settings), UsageError);
}

TEST(Plan, WorkAndMemoryGrowWithTheSize) {
  PaintSettings small;
  small.longEdge = 400;
  EXPECT_LT(plan({2000, 1000}, small).work(), plan({2000, 1000}).work());
  EXPECT_LT(plan({2000, 1000}, small).memory, plan({2000, 1000}).memory);
}

TEST(Plan, AProofIsTheWholeWithoutItsLastLevel) {
  PaintSettings settings;
  const PaintPlan whole = plan({1024, 768}, settings);
  settings.proof = true;
  const PaintPlan proof = plan({1024, 768}, settings);
  ASSERT_EQ(proof.levels.size() + 1, whole.levels.size());
  for (std::size_t l = 0; l < proof.levels.size(); ++l) {
    EXPECT_EQ(proof.levels[l].picture.width, whole.levels[l].picture.width);
    EXPECT_EQ(proof.levels[l].steps, whole.levels[l].steps);
    EXPECT_FALSE(proof.levels[l].finishing);
  }
  EXPECT_TRUE(whole.levels.back().finishing);
  ASSERT_EQ(proof.enlarging.size(), 1U);
  EXPECT_EQ(proof.size().width, proof.levels.back().picture.width);
  EXPECT_EQ(proof.softened.width, whole.softened.width);
  EXPECT_LT(proof.work(), 0.45 * whole.work());
}

TEST(Plan, FinishingGoesToThePhotosOwnSize) {
  PaintSettings settings;
  settings.longEdge = 400;
  settings.finish = true;
  const PaintPlan p = plan({1500, 1000}, settings);
  EXPECT_EQ(p.levels.back().picture.width, 400);
  EXPECT_EQ(p.size().width, 1500);
  EXPECT_EQ(p.size().height, 1000);
  // Nearly four times as large: two stages, neither of them more than twice as large as the one before.
  ASSERT_EQ(p.enlarging.size(), 4U);
  EXPECT_LE(p.enlarging[2].width, 800);
  EXPECT_GE(p.enlarging[2].width, 750);
  // Whatever is asked for, the working size is the same: 1 pixel more would give other strokes.
  settings = {};
  for (const int edge : {600, 701, 768, 803, 1024, 1237}) {
    settings.longEdge = edge;
    EXPECT_EQ(plan({1280, 853}, settings).working.height, plan({1280, 853}).working.height) << edge;
    EXPECT_EQ(plan({1001, 747}, settings).working.height, plan({1001, 747}).working.height) << edge;
  }
  settings.finish = true;
  // There is nothing to finish where the painting has that size already.
  settings.longEdge = 400;
  EXPECT_EQ(plan({400, 300}, settings).size().width, 400);
  EXPECT_EQ(plan({400, 300}, settings).enlarging.size(), 2U);
}

TEST(Plan, StaysWithinTheMemoryAllowed) {
  PaintSettings settings;
  settings.longEdge = 4096;
  settings.brushwork = false;
  settings.memory = std::size_t{64} << 30;
  const PaintPlan free = plan({4096, 3072}, settings);
  EXPECT_FALSE(free.tiled);
  EXPECT_EQ(free.levels.back().budget, 0U);
  settings.memory = free.memory - (std::size_t{200} << 20);
  const PaintPlan bound = plan({4096, 3072}, settings);
  EXPECT_TRUE(bound.tiled);
  EXPECT_LE(bound.memory, settings.memory);
  EXPECT_GT(bound.levels.back().budget, 0U);
  settings.memory = std::size_t{300} << 20;
  try {
    plan({4096, 3072}, settings);
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_NE(std::string(e.what()).find("memory 300M is too little: 4096x3072 takes at least"),
              std::string::npos)
        << e.what();
  }
}

TEST(Plan, EnlargingNeedsLessMemoryThanTheNetworkWould) {
  PaintSettings settings;
  settings.longEdge = 4096;
  const PaintPlan enlarged = plan({4096, 3072}, settings);
  EXPECT_LT(enlarged.memory, std::size_t{2000} << 20);
  settings.memory = std::size_t{1200} << 20;
  try {
    plan({4096, 3072}, settings);
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_NE(std::string(e.what()).find("memory 1200M is too little: 4096x3072 takes at least"),
              std::string::npos)
        << e.what();
  }
}

TEST(Plan, CountsTheMemoryOfALargePhoto) {
  PaintSettings settings;
  settings.longEdge = 512;
  const Chain chain = testing_support::smallChain();
  const std::size_t small = planPainting({512, 384}, settings, chain).memory;
  const std::size_t large = planPainting({8192, 6144}, settings, chain).memory;
  // The photo as it came, and copies of it before the network is there.
  EXPECT_GT(large, small + std::size_t{16} * 8192 * 6144);
}

}  // namespace
}  // namespace jugendstil
