// SPDX-License-Identifier: Apache-2.0
#include "paint/painter.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "grade/recolour.h"
#include "image/resample.h"
#include "paint/appraisal.h"
#include "paint/calm.h"
#include "paint/easel.h"
#include "paint/estimate.h"
#include "paint/reference.h"
#include "style/layout.h"
#include "support/support.h"
#include "weave/patch_search.h"

namespace jugendstil {
namespace {

using testing_support::sample;
using testing_support::smallChain;

PaintSettings quick() {
  PaintSettings settings;
  settings.levels = 2;
  settings.steps = {12, 15};
  settings.precision = PrecisionChoice::full;
  return settings;
}

std::vector<PaintReference> reference(unsigned seed = 9) {
  Image warm = sample(80, 70, seed);
  for (std::size_t i = 0; i < warm.area(); ++i) {
    warm.pixels[i * 3] = std::min(1.0F, warm.pixels[i * 3] * 1.3F);
    warm.pixels[i * 3 + 2] *= 0.4F;
  }
  return {{warm, 1}};
}

TEST(Painter, PaintsTowardsTheReferenceAndKeepsTheSize) {
  const Image photo = sample(96, 64);
  std::vector<double> losses;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) {
    if (p.level == 1) losses.push_back(p.loss.total());
  };
  const PaintResult result = paint(smallChain(), {photo, reference()}, quick(), callbacks);
  EXPECT_TRUE(result.finished);
  EXPECT_EQ(result.picture.width, 96);
  EXPECT_EQ(result.picture.height, 64);
  ASSERT_EQ(losses.size(), 15U);
  EXPECT_LT(losses.back(), losses.front());
  const auto before = colourStatistics(photo);
  const auto after = colourStatistics(result.picture);
  EXPECT_LT(after.mean[2], 0.7 * before.mean[2]);
  for (const float v : result.picture.pixels) EXPECT_TRUE(v >= 0 && v <= 1);
}

TEST(Painter, GoesOnFromTheWorkingEdgeWithBrushwork) {
  const Image photo = sample(96, 64);
  PaintSettings settings = quick();
  settings.workingEdge = 48;
  std::vector<PaintProgress> told;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) { told.push_back(p); };
  const PaintResult result = paint(smallChain(), {photo, reference()}, settings, callbacks);
  EXPECT_TRUE(result.finished);
  EXPECT_EQ(result.picture.width, 96);
  ASSERT_EQ(told.size(), 12U + 15U + 2U * kSearchPasses);
  EXPECT_TRUE(told.back().enlarging);
  EXPECT_EQ(told.back().level, 3);
  EXPECT_EQ(told.back().levels, 4);
  EXPECT_NEAR(told.back().done, 1, 1e-9);
  EXPECT_GT(told.back().loss.total(), 0);
  EXPECT_FALSE(told[26].enlarging);
  EXPECT_EQ(paint(smallChain(), {photo, reference()}, settings, {}).picture.pixels, result.picture.pixels);
  // Crisper than the working size just enlarged.
  settings.longEdge = 48;
  const Image enlarged = resample(paint(smallChain(), {photo, reference()}, settings, {}).picture, 96, 64);
  const auto detail = [](const Image& image) {
    double sum = 0;
    for (std::size_t i = 3; i < image.pixels.size(); ++i)
      sum += std::abs(static_cast<double>(image.pixels[i] - image.pixels[i - 3]));
    return sum;
  };
  EXPECT_GT(detail(result.picture), 1.1 * detail(enlarged));
}

// Strokes must not depend on how large the whole will be: who likes a proof wants that very painting.
TEST(Painter, AProofAndALargerPaintingHaveTheSameStrokes) {
  const PaintInputs inputs{sample(150, 101), reference()};
  PaintSettings settings = quick();
  settings.workingEdge = 64;
  settings.snapshots.every = 3;
  // After the last step of each level, before brush-work.
  const auto levels = [&] {
    std::vector<Image> seen;
    PaintCallbacks callbacks;
    callbacks.snapshot = [&](const Image& picture, int step) {
      if (step == 12 || step == 27) seen.push_back(picture);
    };
    paint(smallChain(), inputs, settings, callbacks);
    return seen;
  };
  const std::vector<Image> larger = levels();
  ASSERT_EQ(larger.size(), 2U);
  settings.longEdge = 64;
  const std::vector<Image> usual = levels();
  ASSERT_EQ(usual.size(), 2U);
  EXPECT_EQ(usual[1].pixels, larger[1].pixels);
  settings.longEdge = 0;
  settings.proof = true;
  const std::vector<Image> proof = levels();
  ASSERT_EQ(proof.size(), 1U);
  EXPECT_EQ(proof[0].pixels, larger[0].pixels);
}

// What takes the finer detail's place is the reference's; forms and colours stay, the more the higher the
// likeness.
TEST(Painter, BrushworkLeavesFormsByLikeness) {
  const PaintInputs inputs{sample(96, 64), reference()};
  const auto apart = [](const Image& a, const Image& b) {
    double sum = 0;
    for (std::size_t i = 0; i < a.pixels.size(); ++i)
      sum += std::abs(static_cast<double>(a.pixels[i] - b.pixels[i]));
    return sum / static_cast<double>(a.pixels.size());
  };
  struct Change {
    double all;
    double forms;
  };
  const auto changeAt = [&](double likeness) {
    PaintSettings settings = quick();
    settings.likeness = likeness;
    const Image laid = paint(smallChain(), inputs, settings, {}).picture;
    settings.brushwork = false;
    const Image optimised = paint(smallChain(), inputs, settings, {}).picture;
    return Change{apart(laid, optimised), apart(resample(laid, 24, 16), resample(optimised, 24, 16))};
  };
  const Change alike = changeAt(100);
  EXPECT_GT(alike.all, 0.005);
  EXPECT_LT(alike.forms, 0.4 * alike.all);
  EXPECT_LT(alike.forms, changeAt(0).forms);
}

TEST(Painter, StoppedBeforeAnyBrushworkKeepsWhatWasOptimised) {
  PaintSettings settings = quick();
  PaintCallbacks callbacks;
  callbacks.progress = [](const PaintProgress& p) {
    if (p.enlarging) throw Stopped{};
  };
  const PaintResult stopped = paint(smallChain(), {sample(96, 64), reference()}, settings, callbacks);
  EXPECT_FALSE(stopped.finished);
  settings.brushwork = false;
  EXPECT_EQ(stopped.picture.pixels,
            paint(smallChain(), {sample(96, 64), reference()}, settings, {}).picture.pixels);
}

TEST(Painter, StoppedWhileBrushworkIsLaidInIsUnfinished) {
  PaintSettings settings = quick();
  settings.workingEdge = 48;
  PaintCallbacks callbacks;
  callbacks.progress = [](const PaintProgress& p) {
    if (p.enlarging && p.step == 4) throw Stopped{};
  };
  const PaintResult result = paint(smallChain(), {sample(96, 64), reference()}, settings, callbacks);
  EXPECT_FALSE(result.finished);
  EXPECT_EQ(result.picture.width, 96);
  EXPECT_EQ(result.last.step, 4);
}

TEST(Painter, SameSeedSameBytesOtherSeedOthers) {
  const Image photo = sample(64, 64);
  PaintSettings settings = quick();
  settings.content = ContentKind::structure;
  settings.measure = MeasureKind::sliced;
  const auto a = paint(smallChain(), {photo, reference()}, settings, {}).picture.pixels;
  EXPECT_EQ(a, paint(smallChain(), {photo, reference()}, settings, {}).picture.pixels);
  settings.seed = 2;
  EXPECT_NE(a, paint(smallChain(), {photo, reference()}, settings, {}).picture.pixels);
}

class EveryManner : public testing::TestWithParam<std::pair<MeasureKind, SolverKind>> {};

TEST_P(EveryManner, PaintsTowardsTheReferenceTheSameEachTime) {
  const Image photo = sample(96, 64);
  PaintSettings settings = quick();
  settings.measure = GetParam().first;
  settings.solver = GetParam().second;
  const PaintResult result = paint(smallChain(), {photo, reference()}, settings, {});
  Appraiser appraiser(smallChain(), photo, reference(), {96, 64});
  const auto distance = [&](const Image& picture) {
    const auto style = appraiser.of(picture).style;
    return std::accumulate(style.begin(), style.end(), 0.0);
  };
  EXPECT_LT(distance(result.picture), 0.8 * distance(photo));
  EXPECT_LT(colourStatistics(result.picture).mean[2], 0.8 * colourStatistics(photo).mean[2]);
  EXPECT_EQ(result.picture.pixels, paint(smallChain(), {photo, reference()}, settings, {}).picture.pixels);
}

INSTANTIATE_TEST_SUITE_P(Kinds, EveryManner,
                         testing::Values(std::pair{MeasureKind::neighbours, SolverKind::adam},
                                         std::pair{MeasureKind::critic, SolverKind::adam},
                                         std::pair{MeasureKind::gram, SolverKind::lbfgs},
                                         std::pair{MeasureKind::sliced, SolverKind::lbfgs}));

TEST(Painter, InTilesThePaintingIsTheSame) {
  // Levels too small for tiles are painted whole; the network's share of what is allowed is forced down
  // instead.
  const Chain chain = smallChain();
  const Image photo = sample(200, 160);
  PaintSettings settings = quick();
  LevelPlan level = canvasFor({200, 160});
  level.steps = 12;
  const auto painted = [&](std::size_t budget) {
    level.budget = budget;
    Easel easel(chain,
                measureReferences(chain, reference(), level.picture, 1, settings.measure, Precision::full),
                level, settings);
    easel.hold(photo, {50});
    LevelRun run(easel, photo);
    LossTerms loss;
    for (int s = 0; s < level.steps; ++s) run.step(s, level.steps, static_cast<std::uint64_t>(s), loss);
    return std::pair{clipped(run.picture()), loss.total()};
  };
  const auto whole = painted(0);
  const auto tiled = painted(Evaluator::memoryFor(chain, 112, 112, Precision::full));
  EXPECT_NEAR(tiled.second, whole.second, 1e-3 * whole.second);
  double difference = 0;
  for (std::size_t i = 0; i < whole.first.pixels.size(); ++i)
    difference += std::fabs(static_cast<double>(whole.first.pixels[i] - tiled.first.pixels[i]));
  EXPECT_LT(difference / static_cast<double>(whole.first.pixels.size()), 2e-3);
}

TEST(Painter, LbfgsHandsOutItsBestStateAndItsLoss) {
  PaintSettings settings = quick();
  settings.solver = SolverKind::lbfgs;
  settings.levels = 1;
  settings.steps = {20};
  std::vector<double> losses;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) { losses.push_back(p.loss.total()); };
  const PaintResult result = paint(smallChain(), {sample(64, 64), reference()}, settings, callbacks);
  for (std::size_t i = 1; i < losses.size(); ++i) EXPECT_LE(losses[i], losses[i - 1]);
  EXPECT_EQ(result.loss.total(), losses.back());
}

TEST(Painter, MoreLikenessStaysCloserToTheDrawing) {
  const Image photo = sample(96, 64);
  PaintSettings settings = quick();
  std::vector<double> content;
  for (const double likeness : {10.0, 50.0, 90.0}) {
    settings.likeness = likeness;
    const auto loss = paint(smallChain(), {photo, reference()}, settings, {}).loss;
    content.push_back(loss.content / contentWeight(likeness, settings.content));
  }
  EXPECT_GT(content[0], content[1]);
  EXPECT_GT(content[1], content[2]);
}

TEST(Painter, WhatIsHeldKeepsItsLayoutAndTheRestIsFree) {
  const Image photo = sample(128, 96);
  PaintSettings settings = quick();
  settings.likeness = 0;
  Image left(128, 96, 1);
  for (int y = 0; y < 96; ++y) std::fill_n(&left.at(0, y, 0), 64, 1.0F);
  const auto apart = [&](const PaintInputs& inputs, int x) {
    const Image painting = paint(smallChain(), inputs, settings, {}).painting;
    const auto part = [&](const Image& image) { return opponentOf(crop(image, x, 0, 48, 96)); };
    Planes unused(48, 96);
    return LayoutTerm(part(photo)).evaluate(part(painting), 1, unused);
  };
  const PaintInputs free{photo, reference()};
  PaintInputs held = free;
  held.held.push_back({left, 95});
  EXPECT_LT(apart(held, 0), 0.8 * apart(free, 0));
  EXPECT_GT(apart(held, 80), 0.85 * apart(free, 80));
}

TEST(Painter, PhotoPaletteKeepsThePhotosColours) {
  const Image photo = sample(96, 64);
  PaintSettings settings = quick();
  settings.palette = Palette::photo;
  const auto kept = colourStatistics(paint(smallChain(), {photo, reference()}, settings, {}).picture);
  const auto own = colourStatistics(photo);
  for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(kept.mean[c], own.mean[c], 0.06);
}

TEST(Painter, StoppingKeepsTheStateAtFullSize) {
  PaintCallbacks callbacks;
  callbacks.progress = [](const PaintProgress& p) {
    if (p.level == 0 && p.step == 5) throw Stopped{};
  };
  const PaintResult result = paint(smallChain(), {sample(96, 64), reference()}, quick(), callbacks);
  EXPECT_FALSE(result.finished);
  EXPECT_EQ(result.last.step, 5);
  EXPECT_EQ(result.picture.width, 96);
}

TEST(Painter, ProgressCountsUpToOne) {
  double last = 0;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) {
    EXPECT_GT(p.done, last);
    last = p.done;
  };
  paint(smallChain(), {sample(64, 64), reference()}, quick(), callbacks);
  EXPECT_NEAR(last, 1.0, 1e-9);
}

TEST(Painter, ANearlyWhiteReferenceDoesNotBleachTheDrawing) {
  // White paper with a few lines: the painting must still tell the photo's dark half from its light one.
  Image paper(90, 90, 3, 1.0F);
  for (int y = 0; y < 90; y += 15) {
    for (int x = 0; x < 90; ++x) {
      for (int c = 0; c < 3; ++c) paper.at(x, y, c) = 0.0F;
    }
  }
  Image photo = sample(96, 64);
  for (int y = 0; y < 64; ++y) {
    for (int x = 0; x < 96; ++x) {
      for (int c = 0; c < 3; ++c) photo.at(x, y, c) *= x < 48 ? 0.3F : 1.0F;
    }
  }
  const Image out = paint(smallChain(), {photo, {{paper, 1}}}, quick(), {}).picture;
  double dark = 0;
  double light = 0;
  for (int y = 0; y < 64; ++y) {
    for (int x = 0; x < 96; ++x)
      (x < 48 ? dark : light) += static_cast<double>(out.at(x, y, 1)) / (48.0 * 64.0);
  }
  EXPECT_GT(light, dark + 0.1);
}

TEST(Painter, AStartOfAnotherFormatIsCutNotStretched) {
  // A square with dark bars left and right outside the middle half; the photo is upright, so they are cut
  // off.
  Image bars(128, 128, 3, 0.6F);
  for (int y = 0; y < 128; ++y) {
    for (int x = 0; x < 128; ++x) {
      for (int c = 0; c < 3; ++c) bars.at(x, y, c) = x < 32 || x >= 96 ? 0.0F : 0.6F;
    }
  }
  PaintSettings settings = quick();
  settings.levels = 1;
  settings.steps = {1};
  settings.start = "bars.png";
  PaintInputs inputs{sample(48, 96), reference()};
  inputs.start = bars;
  const Image out = paint(smallChain(), inputs, settings, {}).picture;
  for (int y = 8; y < 88; ++y) EXPECT_GT(out.at(1, y, 1), 0.45F);
}

TEST(Painter, SnapshotsComeWhenAsked) {
  PaintSettings settings = quick();
  settings.snapshots.every = 10;
  std::vector<int> steps;
  PaintCallbacks callbacks;
  callbacks.snapshot = [&](const Image& image, int step) {
    EXPECT_FALSE(image.empty());
    steps.push_back(step);
  };
  paint(smallChain(), {sample(64, 64), reference()}, settings, callbacks);
  EXPECT_EQ(steps, (std::vector<int>{10, 20}));
  steps.clear();
  settings.snapshots = {0, {3, 14}};
  paint(smallChain(), {sample(64, 64), reference()}, settings, callbacks);
  EXPECT_EQ(steps, (std::vector<int>{3, 14}));
}

TEST(Painter, EndsWhereNothingVisibleChangesAnyMore) {
  const PaintInputs inputs{sample(64, 48), reference()};
  PaintSettings settings = quick();
  settings.brushwork = false;
  settings.steps = {600};
  int steps = 0;
  double done = 0;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) {
    ++steps;
    EXPECT_GT(p.done, done);
    done = p.done;
  };
  const PaintResult whole = paint(smallChain(), inputs, settings, callbacks);
  EXPECT_EQ(steps, 1200);
  EXPECT_EQ(whole.spared, 0);
  settings.untilGood = true;
  steps = 0;
  done = 0;
  const PaintResult good = paint(smallChain(), inputs, settings, callbacks);
  EXPECT_NEAR(done, 1, 1e-9);
  EXPECT_GT(good.spared, 300);
  EXPECT_EQ(steps + good.spared, 1200);
  EXPECT_TRUE(good.finished);
  // The steps went somewhere, and far more than what was left out.
  const Image photo = inputs.photo;
  EXPECT_LT(visibleChange(whole.picture, good.picture), visibleChange(whole.picture, photo) / 4);
}

TEST(Painter, OpacityNothingIsThePhoto) {
  const Image photo = sample(64, 48);
  PaintSettings settings = quick();
  settings.opacity = 0;
  const Image out = paint(smallChain(), {photo, reference()}, settings, {}).picture;
  for (std::size_t i = 0; i < out.pixels.size(); ++i) EXPECT_NEAR(out.pixels[i], photo.pixels[i], 1e-4F);
}

TEST(Painter, AnyFormatOfPhotoAndReference) {
  PaintSettings settings = quick();
  settings.steps = {2};
  for (const auto& [w, h] : {std::pair{16, 16}, std::pair{300, 20}, std::pair{20, 300}, std::pair{37, 53}}) {
    const std::vector<PaintReference> small{{sample(5, 3, 2), 1}};
    const Image out = paint(smallChain(), {sample(w, h), small}, settings, {}).picture;
    EXPECT_EQ(out.width, w);
    EXPECT_EQ(out.height, h);
    settings.stroke = 3;
    EXPECT_NO_THROW(paint(smallChain(), {sample(w, h), {{sample(400, 30, 2), 1}}}, settings, {}));
    settings.stroke = 1;
  }
}

TEST(Painter, OneColourInputsGiveAPicture) {
  const Image out =
      paint(smallChain(), {Image(48, 48, 3, 0.5F), {{Image(40, 40, 3, 0.2F), 1}}}, quick(), {}).picture;
  for (const float v : out.pixels) EXPECT_TRUE(std::isfinite(v));
}

TEST(Painter, BadInputIsRefusedBeforeWork) {
  EXPECT_THROW(paint(smallChain(), {sample(64, 64), {}}, quick(), {}), UsageError);
  EXPECT_THROW(paint(smallChain(), {sample(64, 10), reference()}, quick(), {}), Error);
  PaintSettings settings = quick();
  settings.emphasis = {{"middle", 1.0}};
  EXPECT_THROW(paint(smallChain(), {sample(64, 64), reference()}, settings, {}), UsageError);
  settings.emphasis = {{"one", 0.0}, {"two", 0.0}, {"three", 0.0}};
  EXPECT_THROW(paint(smallChain(), {sample(64, 64), reference()}, settings, {}), UsageError);
}

TEST(Painter, HalfPrecisionEndsAtTheSameLoss) {
  if (!processorHasHalf()) GTEST_SKIP() << "no bf16 on this processor";
  PaintSettings settings;
  settings.levels = 1;
  settings.steps = {40};
  const auto loss = [&](PrecisionChoice precision) {
    settings.precision = precision;
    return paint(testing_support::filigree(), {sample(112, 80), reference()}, settings, {}).loss.total();
  };
  const double full = loss(PrecisionChoice::full);
  EXPECT_NEAR(loss(PrecisionChoice::half), full, 0.04 * full);
}

TEST(LevelRun, ABadStepIsTakenBack) {
  const Chain chain = smallChain();
  LevelPlan plan = canvasFor({64, 64});
  plan.steps = 100;
  const Image first = sample(64, 64);
  Easel easel(chain,
              measureReferences(chain, reference(), plan.picture, 1, MeasureKind::gram, Precision::full),
              plan, quick());
  easel.hold(first, {50});
  const auto furthest = [](const Image& a, const Image& b) {
    float most = 0;
    for (std::size_t i = 0; i < a.pixels.size(); ++i)
      most = std::max(most, std::fabs(a.pixels[i] - b.pixels[i]));
    return most;
  };
  LevelRun run(easel, first);
  LossTerms loss;
  for (int s = 0; s < 3; ++s) ASSERT_TRUE(run.step(s, 100, 0, loss)) << s;
  EXPECT_GT(furthest(run.picture(), first), 0.005F);
  // What it is held to is suddenly no number: back to the last checkpoint, the beginning.
  easel.holdPixels(Image(64, 64, 3, std::nanf("")), Image(64, 64, 1, 1.0F), 1);
  EXPECT_FALSE(run.step(3, 100, 0, loss));
  const Image back = run.picture();
  EXPECT_LT(furthest(back, first), 1e-3F);
  EXPECT_TRUE(run.sound());
  // From there on steps are half as long as another's.
  easel.freePixels();
  ASSERT_TRUE(run.step(4, 100, 0, loss));
  LevelRun other(easel, back);
  ASSERT_TRUE(other.step(4, 100, 0, loss));
  EXPECT_NEAR(furthest(run.picture(), back) / furthest(other.picture(), back), 0.5F, 0.05F);
}

TEST(LevelRun, OneThatNeverHadAGoodStepIsNotSound) {
  const Chain chain = smallChain();
  LevelPlan plan = canvasFor({64, 64});
  Image broken = sample(64, 64);
  broken.pixels[5] = std::nanf("");
  Easel easel(chain,
              measureReferences(chain, reference(), plan.picture, 1, MeasureKind::gram, Precision::full),
              plan, quick());
  easel.hold(sample(64, 64), {50});
  LevelRun run(easel, broken);
  LossTerms loss;
  EXPECT_FALSE(run.step(0, 100, 0, loss));
  EXPECT_FALSE(run.sound());
}

TEST(Reference, StrokeScalesTheReference) {
  // A fine pattern seen twice as large has less in the finest band.
  Image stripes(128, 128);
  for (int y = 0; y < 128; ++y) {
    for (int x = 0; x < 128; ++x) {
      for (int c = 0; c < 3; ++c) stripes.at(x, y, c) = x % 2 == 0 ? 0.2F : 0.8F;
    }
  }
  const auto deviation = [&](double stroke) {
    const auto targets = measureReferences(smallChain(), {{stripes, 1}}, {64, 64}, stroke,
                                           MeasureKind::moments, Precision::full);
    const auto gram = targets.bands[0].gram();
    const auto mean = targets.bands[0].mean();
    double sum = 0;
    for (std::size_t c = 0; c < mean.size(); ++c) sum += gram[c * mean.size() + c] - mean[c] * mean[c];
    return sum;
  };
  EXPECT_GT(deviation(2.0), 1.3 * deviation(1.0));
}

TEST(Estimate, IsPositiveAndGrowsWithTheWork) {
  PaintSettings small = quick();
  small.longEdge = 64;
  PaintSettings large = quick();
  large.longEdge = 512;
  const Image photo = sample(96, 96);
  const double a = estimateSeconds(smallChain(), {photo, reference()}, small);
  EXPECT_GT(a, 0);
  EXPECT_GT(estimateSeconds(smallChain(), {photo, reference()}, large), a);
}

// A trial that took the finishing level along would be as slow as the painting.
TEST(Estimate, TheTrialLeavesFinishingOut) {
  PaintSettings settings = quick();
  settings.longEdge = 64;
  const Image photo = sample(1200, 900);
  const double plain = measuredRate(smallChain(), {photo, reference()}, settings);
  settings.finish = true;
  settings.memory = std::size_t{1} << 40;
  const double finished = measuredRate(smallChain(), {photo, reference()}, settings);
  // Counted into the work but not into the steps, it would make a step look a hundred times cheaper.
  EXPECT_GT(finished, plain / 10);
}

}  // namespace
}  // namespace jugendstil
