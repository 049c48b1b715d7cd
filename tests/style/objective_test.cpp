// SPDX-License-Identifier: Apache-2.0
#include "style/objective.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "style/make_measure.h"
#include "support/gradient.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

struct Workbench {
  Chain chain = testing_support::smallChain();
  Evaluator evaluator{chain, 32, 32, Precision::full, {0, 1, 2}};

  Objective make(MeasureKind measure, ContentKind content, std::vector<double> emphasis) {
    std::vector<Objective::Style> styles;
    Evaluator reference(chain, 48, 48, Precision::full, {0, 1, 2});
    Planes rgb(48, 48);
    const Planes opponent = opponentOf(sample(48, 48, 11));
    opponentToRgb(opponent, rgb);
    reference.forward(rgb.plane[0], rgb.plane[1], rgb.plane[2]);
    for (const std::size_t b : {0U, 1U, 2U}) {
      BandStatistics statistics(measure, b);
      statistics.add(reference, 1);
      styles.push_back({b, makeMeasure(statistics, 1)});
    }
    Planes photo(32, 32);
    opponentToRgb(opponentOf(sample(32, 32, 2)), photo);
    evaluator.forward(photo.plane[0], photo.plane[1], photo.plane[2]);
    ObjectiveWeights weights;
    weights.emphasis = std::move(emphasis);
    std::vector<Objective::Colour> colours;
    colours.push_back({std::make_unique<ColourTerm>(colourSamples({opponent}, {1.0}, 2000), 1), 1});
    return {evaluator, std::move(styles),  makeContent(content, evaluator, 1, 1),
            1,         std::move(colours), weights};
  }
};

// Of a picture that stays as it is.
template <typename T>  // an objective, lasting or not
LossTerms evaluated(T&& objective, Planes picture, std::uint64_t step, Planes& gradient) {
  return objective.evaluate(picture, step, gradient);
}

class WholeObjective : public testing::TestWithParam<std::pair<MeasureKind, ContentKind>> {};

TEST_P(WholeObjective, GradientMatchesFiniteDifferences) {
  Workbench bench;
  Objective objective = bench.make(GetParam().first, GetParam().second, {1, 2, 0.5});
  Image start = sample(32, 32, 7);
  for (float& v : start.pixels) v = 1.5F * v - 0.35F;  // some of it out of range
  const Planes p = opponentOf(start);
  Planes gradient(32, 32);
  evaluated(objective, p, 4, gradient);
  const auto value = [&](const Planes& at) {
    Planes unused(32, 32);
    return evaluated(objective, at, 4, unused).total();
  };
  testing_support::expectGradient(value, p, gradient, 5e-4F, 0.04);
}

INSTANTIATE_TEST_SUITE_P(Kinds, WholeObjective,
                         testing::Values(std::pair{MeasureKind::gram, ContentKind::structure},
                                         std::pair{MeasureKind::gram, ContentKind::features},
                                         std::pair{MeasureKind::moments, ContentKind::features},
                                         std::pair{MeasureKind::sliced, ContentKind::structure}));

// Held far more strongly than in use, so that its gradient stands out among the others.
TEST(Objective, HeldPixelsGradientMatchesFiniteDifferences) {
  Workbench bench;
  Objective objective = bench.make(MeasureKind::moments, ContentKind::features, {1, 1, 1});
  Held held{opponentOf(sample(32, 32, 21)), std::vector<float>(32 * 32)};
  for (std::size_t i = 0; i < held.strength.size(); ++i) held.strength[i] = static_cast<float>(i % 7) / 6;
  objective.setHeld(held, 400);
  const Planes p = opponentOf(sample(32, 32, 7));
  Planes gradient(32, 32);
  const LossTerms terms = evaluated(objective, p, 4, gradient);
  EXPECT_GT(terms.held, 5 * (terms.total() - terms.held));
  const auto value = [&](const Planes& at) {
    Planes unused(32, 32);
    return evaluated(objective, at, 4, unused).total();
  };
  testing_support::expectGradient(value, p, gradient, 2e-3F, 0.04);
}

TEST(Objective, WhatIsHeldIsNothingAtItselfAndGrainIsFree) {
  Workbench bench;
  Objective objective = bench.make(MeasureKind::moments, ContentKind::features, {1, 1, 1});
  const Planes p = opponentOf(sample(32, 32, 7));
  objective.setHeld({p, std::vector<float>(32 * 32, 1.0F)}, 50);
  Planes gradient(32, 32);
  EXPECT_NEAR(evaluated(objective, p, 1, gradient).held, 0, 1e-9);
  Planes grain = p;
  Planes shade = p;
  for (std::size_t i = 0; i < grain.area(); ++i) {
    grain.plane[0][i] += (i % 32 + i / 32) % 2 == 0 ? 0.1F : -0.1F;
    shade.plane[0][i] += 0.1F;
  }
  const double free = evaluated(objective, grain, 1, gradient).held;
  const double bound = evaluated(objective, shade, 1, gradient).held;
  EXPECT_LT(free, 1e-6);
  EXPECT_NEAR(bound, 50 * 0.01, 0.06);  // a little less at the rim
  objective.setHeld({}, 0);
  EXPECT_EQ(evaluated(objective, shade, 1, gradient).held, 0);
  EXPECT_THROW(objective.setHeld({Planes(16, 16), std::vector<float>(256)}, 1), Error);
}

TEST(Objective, EmphasisIsRelative) {
  Workbench bench;
  Planes gradient(32, 32);
  const Planes p = opponentOf(sample(32, 32, 7));
  const double once =
      evaluated(bench.make(MeasureKind::gram, ContentKind::features, {1, 2, 1}), p, 1, gradient).style;
  const double scaled =
      evaluated(bench.make(MeasureKind::gram, ContentKind::features, {10, 20, 10}), p, 1, gradient).style;
  EXPECT_NEAR(once, scaled, 1e-6);
  double sum = 0;
  for (int k = 0; k < 3; ++k) {
    std::vector<double> alone(3, 0.0);
    alone[static_cast<std::size_t>(k)] = 1;
    sum += (k == 1 ? 0.5 : 0.25) *
           evaluated(bench.make(MeasureKind::gram, ContentKind::features, alone), p, 1, gradient).style;
  }
  EXPECT_NEAR(once, sum, 1e-5);
}

TEST(Objective, EqualStepsGiveEqualValues) {
  Workbench bench;
  Objective objective = bench.make(MeasureKind::sliced, ContentKind::structure, {1, 1, 1});
  Planes gradient(32, 32);
  const Planes p = opponentOf(sample(32, 32, 7));
  const double a = evaluated(objective, p, 1, gradient).total();
  const auto first = gradient.plane[0];
  EXPECT_NE(evaluated(objective, p, 2, gradient).total(), a);
  EXPECT_EQ(evaluated(objective, p, 1, gradient).total(), a);
  EXPECT_EQ(gradient.plane[0], first);
}

TEST(Objective, NoEmphasisAtAllIsRefused) {
  Workbench bench;
  EXPECT_THROW(bench.make(MeasureKind::gram, ContentKind::features, {0, 0, 0}), Error);
}

TEST(Objective, MoreStylesCountBesideTheOthersUntilTheyAreTakenAway) {
  Workbench bench;
  Objective objective = bench.make(MeasureKind::gram, ContentKind::features, {1, 1, 1});
  const Planes picture = opponentOf(sample(32, 32, 7));
  Planes gradient(32, 32);
  const double before = evaluated(objective, picture, 1, gradient).style;
  BandStatistics statistics(MeasureKind::gram, 0);
  Evaluator reference(bench.chain, 32, 32, Precision::full, {0});
  reference.forward(picture.plane[0], picture.plane[1], picture.plane[2]);
  statistics.add(reference, 1);
  std::vector<Objective::Style> more;
  more.push_back({0, makeMeasure(statistics, 1)});
  objective.setMore(std::move(more), {0.5});
  const LossTerms with = evaluated(objective, picture, 1, gradient);
  EXPECT_EQ(with.style, before);
  EXPECT_GT(with.more, 1e-4);
  EXPECT_GT(with.total(), with.more + before);
  objective.setMore({}, {});
  EXPECT_EQ(evaluated(objective, picture, 1, gradient).more, 0);
}

}  // namespace
}  // namespace jugendstil
