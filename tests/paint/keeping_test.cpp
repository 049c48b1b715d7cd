// SPDX-License-Identifier: Apache-2.0
// Paintings that go on after a stop or a crash: the same bytes as one that was never stopped.
#include "paint/keeping.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/stop.h"
#include "paint/painter.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::sample;
using testing_support::smallChain;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

struct Manner {
  const char* name;
  MeasureKind measure;
  SolverKind solver;
  bool parts;
};

// Ends a painting without its knowledge, like a power cut.
struct Crash {};

class Keeping : public testing::TestWithParam<Manner> {
 protected:
  PaintSettings settings() const {
    PaintSettings s;
    s.levels = 2;
    s.steps = {6, 8};
    s.workingEdge = 48;
    s.precision = PrecisionChoice::full;
    s.measure = GetParam().measure;
    s.solver = GetParam().solver;
    return s;
  }

  PaintInputs inputs() const {
    PaintInputs in{sample(96, 64), {{sample(80, 70, 9), 1}}};
    if (!GetParam().parts) return in;
    Image left(96, 64, 1);
    for (int y = 0; y < 64; ++y) {
      for (int x = 0; x < 48; ++x) left.at(x, y, 0) = 1;
    }
    in.parts.push_back({left, {{sample(90, 70, 4), 1}}});
    return in;
  }

  // Paints until so many steps (of this run) were told, and ends as asked there.
  template <typename End>
  PaintResult run(int most, const std::string& making = "a making") {
    PaintCallbacks callbacks;
    callbacks.keeping = {folder / "p.unfinished", making, std::chrono::seconds(0), {}, {}};
    callbacks.resumed = [&](const PaintProgress& p) { resumedAt = p; };
    int told = 0;
    callbacks.progress = [&](const PaintProgress&) {
      if (++told > most) throw End{};
    };
    resumedAt = {};
    return paint(smallChain(), inputs(), settings(), callbacks);
  }

  TemporaryFolder folder;
  PaintProgress resumedAt;
};

TEST_P(Keeping, StoppedAnywhereItGoesOnToTheSameBytes) {
  const PaintResult whole = paint(smallChain(), inputs(), settings(), {});
  // In the first level, in the second, between them, in the brush-work.
  int runs = 0;
  PaintResult result;
  for (; !result.finished && runs < 12; ++runs) result = run<Stopped>(4);
  EXPECT_GT(runs, 5);
  EXPECT_TRUE(resumedAt.enlarging);
  EXPECT_EQ(result.picture.pixels, whole.picture.pixels);
  EXPECT_EQ(result.loss.total(), whole.loss.total());
  EXPECT_EQ(result.last.done, whole.last.done);
  EXPECT_EQ(result.recovered, whole.recovered);
}

TEST(KeepingUntilGood, StoppedAnywhereItEndsAtTheSameStep) {
  const PaintInputs inputs{sample(64, 48), {{sample(80, 70, 9), 1}}};
  PaintSettings settings;
  settings.levels = 1;
  settings.steps = {400};
  settings.brushwork = false;
  settings.untilGood = true;
  const PaintResult whole = paint(smallChain(), inputs, settings, {});
  ASSERT_GT(whole.spared, 100);
  const TemporaryFolder folder;
  PaintResult result;
  int runs = 0;
  for (; !result.finished && runs < 200; ++runs) {
    PaintCallbacks callbacks;
    callbacks.keeping = {folder / "p.unfinished", "a making", std::chrono::seconds(0), {}, {}};
    int told = 0;
    callbacks.progress = [&](const PaintProgress&) {
      if (++told > 7) throw Stopped();
    };
    result = paint(smallChain(), inputs, settings, callbacks);
  }
  EXPECT_GT(runs, 3);
  EXPECT_EQ(result.picture.pixels, whole.picture.pixels);
  EXPECT_EQ(result.spared, whole.spared);
}

TEST_P(Keeping, AfterACrashNoMoreThanTheLastStepIsLost) {
  const PaintResult whole = paint(smallChain(), inputs(), settings(), {});
  EXPECT_THROW(run<Crash>(9), Crash);
  EXPECT_THROW(run<Crash>(9), Crash);
  EXPECT_EQ(resumedAt.level, 1);
  EXPECT_EQ(resumedAt.step, 3);
  EXPECT_EQ(run<Crash>(1000).picture.pixels, whole.picture.pixels);
}

INSTANTIATE_TEST_SUITE_P(Manners, Keeping,
                         testing::Values(Manner{"gram", MeasureKind::gram, SolverKind::adam, false},
                                         Manner{"slicedParts", MeasureKind::sliced, SolverKind::adam, true},
                                         Manner{"neighbours", MeasureKind::neighbours, SolverKind::adam,
                                                false},
                                         Manner{"critic", MeasureKind::critic, SolverKind::adam, false},
                                         Manner{"lbfgs", MeasureKind::gram, SolverKind::lbfgs, false}),
                         [](const auto& info) { return std::string(info.param.name); });

using KeptState = Keeping;
INSTANTIATE_TEST_SUITE_P(One, KeptState,
                         testing::Values(Manner{"gram", MeasureKind::gram, SolverKind::adam, false}));

TEST_P(KeptState, OfAnotherMakingOrDamagedIsNotGoneOnFrom) {
  run<Stopped>(5);
  run<Stopped>(5, "another making");
  EXPECT_EQ(resumedAt.steps, 0);
  const std::string state = contentOf(folder / "p.unfinished");
  writeContent(folder / "p.unfinished", state.substr(0, state.size() / 2));
  run<Stopped>(5, "another making");
  EXPECT_EQ(resumedAt.steps, 0);
}

TEST_P(KeptState, ThatCannotBeKeptCostsNoPainting) {
  PaintCallbacks callbacks;
  callbacks.keeping = {folder / "no such folder" / "p", "a making", std::chrono::seconds(0), {}, {}};
  const PaintResult result = paint(smallChain(), inputs(), settings(), callbacks);
  EXPECT_TRUE(result.finished);
  EXPECT_NE(result.notKept.find("no such folder"), std::string::npos);
}

}  // namespace
}  // namespace jugendstil
