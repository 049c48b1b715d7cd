// SPDX-License-Identifier: Apache-2.0
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "style/make_measure.h"
#include "support/gradient.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

Planes rgbPlanes(const Image& image) {
  Planes p(image.width, image.height);
  for (std::size_t i = 0; i < image.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) p.plane[c][i] = image.pixels[i * 3 + c];
  }
  return p;
}

void forward(Evaluator& e, const Planes& p) { e.forward(p.plane[0], p.plane[1], p.plane[2]); }

BandStatistics statisticsOf(const Chain& chain, const std::vector<std::pair<Image, double>>& references,
                            MeasureKind kind, std::size_t band) {
  BandStatistics statistics(kind, band);
  for (const auto& [image, share] : references) {
    Evaluator evaluator(chain, image.width, image.height, Precision::full, {band});
    forward(evaluator, rgbPlanes(image));
    statistics.add(evaluator, share);
  }
  return statistics;
}

class EveryMeasure : public testing::TestWithParam<MeasureKind> {};

TEST_P(EveryMeasure, IsNothingForTheReferenceItselfAndLargeForAnother) {
  const Chain chain = testing_support::smallChain();
  const Image reference = sample(48, 40, 1);
  for (const std::size_t band : {std::size_t{0}, std::size_t{2}}) {
    const auto measure = makeMeasure(statisticsOf(chain, {{reference, 1.0}}, GetParam(), band), 5);
    Evaluator evaluator(chain, 48, 40, Precision::full, {band});
    forward(evaluator, rgbPlanes(reference));
    EXPECT_LT(measure->value(evaluator, 0), 2e-3);
    forward(evaluator, rgbPlanes(Image(48, 40, 3, 0.9F)));
    EXPECT_GT(measure->value(evaluator, 9), 0.05);
  }
}

// The gradient of a measure of one band, at a dim picture.
void expectTrueGradient(Evaluator& evaluator, Measure& measure, double tolerance) {
  Image dim = sample(evaluator.width(), evaluator.height(), 3);
  for (float& v : dim.pixels) v *= 0.6F;
  const Planes p = rgbPlanes(dim);
  const auto value = [&](const Planes& at) {
    forward(evaluator, at);
    return measure.value(evaluator, 7);
  };
  value(p);
  Planes gradient(p.width, p.height);
  evaluator.backward([&](std::size_t, BandGradient& sink) { measure.addGradient(1.0, sink); },
                     gradient.plane[0], gradient.plane[1], gradient.plane[2]);
  testing_support::expectGradient(value, p, gradient, 1e-3F, tolerance);
}

TEST_P(EveryMeasure, GradientMatchesFiniteDifferences) {
  const Chain chain = testing_support::smallChain();
  const auto statistics =
      statisticsOf(chain, {{sample(40, 40, 1), 2.0}, {sample(32, 36, 8), 1.0}}, GetParam(), 2);
  Evaluator evaluator(chain, 36, 28, Precision::full, {2});
  expectTrueGradient(evaluator, *makeMeasure(statistics, 5), GetParam() == MeasureKind::sliced ? 0.04 : 0.02);
}

TEST_P(EveryMeasure, GradientMayBeAskedForAgain) {
  const Chain chain = testing_support::smallChain();
  const auto measure = makeMeasure(statisticsOf(chain, {{sample(40, 40, 1), 1.0}}, GetParam(), 2), 5);
  Evaluator evaluator(chain, 36, 28, Precision::full, {2});
  const Planes p = rgbPlanes(sample(36, 28, 3));
  forward(evaluator, p);
  measure->value(evaluator, 7);
  const auto gradient = [&](int times) {
    Planes out(p.width, p.height);
    evaluator.backward(
        [&](std::size_t, BandGradient& sink) {
          for (int i = 0; i < times; ++i) measure->addGradient(1.0 / times, sink);
        },
        out.plane[0], out.plane[1], out.plane[2]);
    return out.plane[1];
  };
  const auto once = gradient(1);
  const auto twice = gradient(2);
  const float most = std::fabs(*std::max_element(
      once.begin(), once.end(), [](float a, float b) { return std::fabs(a) < std::fabs(b); }));
  for (std::size_t i = 0; i < once.size(); ++i) EXPECT_NEAR(twice[i], once[i], 1e-4F * most) << i;
}

// Left third of the band.
std::vector<float> thirdOf(const BandShape& shape) {
  std::vector<float> weights(static_cast<std::size_t>(shape.positions()), 0.0F);
  for (int y = 0; y < shape.height; ++y) {
    for (int x = 0; x <= shape.width / 3; ++x)
      weights[static_cast<std::size_t>(y * shape.width + x)] = x == shape.width / 3 ? 0.4F : 1.0F;
  }
  return weights;
}

TEST_P(EveryMeasure, LooksOnlyUnderItsWeights) {
  const Chain chain = testing_support::smallChain();
  const auto statistics = statisticsOf(chain, {{sample(40, 40, 1), 1.0}}, GetParam(), 1);
  Evaluator evaluator(chain, 48, 32, Precision::full, {1});
  const auto measure = makeMeasure(statistics, 5, thirdOf(evaluator.shape(1)));
  Image photo = sample(48, 32, 3);
  const auto valueOf = [&] {
    forward(evaluator, rgbPlanes(photo));
    return measure->value(evaluator, 2);
  };
  const double before = valueOf();
  for (int y = 0; y < 32; ++y) {
    for (int x = 30; x < 48; ++x) photo.at(x, y, 0) = 0.0F;
  }
  EXPECT_NEAR(valueOf(), before, 1e-6 + 1e-5 * before);
  Planes gradient(48, 32);
  evaluator.backward([&](std::size_t, BandGradient& sink) { measure->addGradient(1.0, sink); },
                     gradient.plane[0], gradient.plane[1], gradient.plane[2]);
  for (std::size_t y = 0; y < 32; ++y) EXPECT_EQ(gradient.plane[0][y * 48 + 40], 0.0F);
  for (int y = 0; y < 32; ++y) {
    for (int x = 0; x < 10; ++x) photo.at(x, y, 0) = 0.0F;
  }
  EXPECT_GT(std::fabs(valueOf() - before), 1e-3 * before);
}

TEST_P(EveryMeasure, WeightedGradientMatchesFiniteDifferences) {
  const Chain chain = testing_support::smallChain();
  const auto statistics = statisticsOf(chain, {{sample(40, 40, 1), 1.0}}, GetParam(), 1);
  Evaluator evaluator(chain, 36, 28, Precision::full, {1});
  expectTrueGradient(evaluator, *makeMeasure(statistics, 5, thirdOf(evaluator.shape(1))),
                     GetParam() == MeasureKind::sliced ? 0.06 : 0.02);
}

INSTANTIATE_TEST_SUITE_P(Measures, EveryMeasure,
                         testing::Values(MeasureKind::gram, MeasureKind::moments, MeasureKind::sliced,
                                         MeasureKind::neighbours, MeasureKind::critic),
                         [](const auto& info) { return nameOf(info.param); });

TEST(Neighbours, APieceOfTheReferenceFindsItself) {
  const Chain chain = testing_support::smallChain();
  const Image reference = sample(96, 80, 1);
  const auto statistics = statisticsOf(chain, {{reference, 1.0}}, MeasureKind::neighbours, 1);
  const auto valueOf = [&](const Image& picture) {
    Evaluator evaluator(chain, picture.width, picture.height, Precision::full, {1});
    forward(evaluator, rgbPlanes(picture));
    return makeMeasure(statistics, 1)->value(evaluator, 0);
  };
  // Another order of its parts, each moved by whole positions of the band, is no other style; its means and
  // moments would be, where a piece is not typical of the whole.
  const double piece = valueOf(crop(reference, 16, 8, 48, 48));
  EXPECT_LT(piece, 0.5 * valueOf(sample(48, 48, 30)));
  // All of it only differs where parts meet the edge.
  EXPECT_LT(valueOf(reference), 1e-6);
}

TEST(Neighbours, MatchesAreKeptForAWhile) {
  const Chain chain = testing_support::smallChain();
  const auto statistics = statisticsOf(chain, {{sample(64, 64, 1), 1.0}}, MeasureKind::neighbours, 1);
  Evaluator evaluator(chain, 48, 48, Precision::full, {1});
  const auto kept = makeMeasure(statistics, 1);
  forward(evaluator, rgbPlanes(sample(48, 48, 2)));
  kept->value(evaluator, 0);
  forward(evaluator, rgbPlanes(sample(48, 48, 3)));
  const double old = kept->value(evaluator, 1);
  const double fresh = makeMeasure(statistics, 1)->value(evaluator, 1);
  EXPECT_GT(old, 1.05 * fresh);
  kept->value(evaluator, 2);
  for (std::uint64_t step = 3; step <= 10; ++step) kept->value(evaluator, step);
  EXPECT_EQ(kept->value(evaluator, 10), makeMeasure(statistics, 1)->value(evaluator, 10));
}

// A film that goes on where it was stopped must find the judge that a run without a stop would have.
TEST(Critic, AJumpInStepsBeginsAfresh) {
  const Chain chain = testing_support::smallChain();
  const auto statistics = statisticsOf(chain, {{sample(64, 64, 1), 1.0}}, MeasureKind::critic, 1);
  Evaluator evaluator(chain, 48, 48, Precision::full, {1});
  forward(evaluator, rgbPlanes(sample(48, 48, 2)));
  const auto old = makeMeasure(statistics, 1);
  const double first = old->value(evaluator, 0);
  EXPECT_NE(first, old->value(evaluator, 1));
  const auto fresh = makeMeasure(statistics, 1);
  for (const std::uint64_t step : {700U, 701U, 702U})
    EXPECT_EQ(old->value(evaluator, step), fresh->value(evaluator, step));
}

TEST(Critic, LearnsToTellThePictureFromTheReference) {
  const Chain chain = testing_support::smallChain();
  const auto statistics = statisticsOf(chain, {{sample(64, 64, 1), 1.0}}, MeasureKind::critic, 1);
  Evaluator evaluator(chain, 48, 48, Precision::full, {1});
  forward(evaluator, rgbPlanes(sample(48, 48, 2)));
  const auto judge = makeMeasure(statistics, 1);
  const double first = judge->value(evaluator, 0);
  double last = 0;
  for (std::uint64_t step = 1; step < 150; ++step) last = judge->value(evaluator, step);
  EXPECT_GT(last, first);
  EXPECT_LT(last, 1.2);
}

TEST(BandStatistics, PatchesComeInNumbersByShare) {
  const Chain chain = testing_support::smallChain();
  const auto statistics = statisticsOf(
      chain, {{Image(120, 120, 3, 0.2F), 3.0}, {Image(120, 120, 3, 0.8F), 1.0}}, MeasureKind::neighbours, 0);
  EXPECT_NEAR(static_cast<double>(statistics.patches().size()) / (9 * 16), 3072, 2);
}

TEST(BandStatistics, SharesAreRelativeAndWeighTheMeans) {
  const Chain chain = testing_support::smallChain();
  const Image a = sample(32, 32, 1);
  const Image b = sample(40, 24, 2);
  const auto ga = statisticsOf(chain, {{a, 1.0}}, MeasureKind::gram, 1).gram();
  const auto gb = statisticsOf(chain, {{b, 1.0}}, MeasureKind::gram, 1).gram();
  const auto mixed = statisticsOf(chain, {{a, 3.0}, {b, 1.0}}, MeasureKind::gram, 1).gram();
  const auto scaled = statisticsOf(chain, {{b, 0.5}, {a, 1.5}}, MeasureKind::gram, 1).gram();
  for (std::size_t i = 0; i < mixed.size(); ++i) {
    EXPECT_NEAR(mixed[i], 0.75F * ga[i] + 0.25F * gb[i], 1e-4F);
    EXPECT_NEAR(mixed[i], scaled[i], 1e-4F);
  }
}

TEST(BandStatistics, SamplesComeInNumbersByShare) {
  const Chain chain = testing_support::smallChain();
  const auto statistics = statisticsOf(
      chain, {{Image(120, 120, 3, 0.2F), 3.0}, {Image(120, 120, 3, 0.8F), 1.0}}, MeasureKind::sliced, 0);
  const auto rows = statistics.samples();
  EXPECT_EQ(rows.size() % 16, 0U);
  EXPECT_NEAR(static_cast<double>(rows.size()) / 16.0, 8192.0, 2.0);
  // Far inside, a flat picture has one activation: three rows in four carry the first picture's.
  std::size_t first = 0;
  for (std::size_t i = 0; i < rows.size(); i += 16)
    first += std::fabs(rows[i + 2] - rows[16 * 100 + 2]) < 1e-4F ? 1 : 0;
  EXPECT_NEAR(static_cast<double>(first) / 8192.0, 0.75, 0.05);
}

TEST(Measure, UnknownNameListsTheNames) {
  EXPECT_EQ(measureFromName("sliced"), MeasureKind::sliced);
  const std::string said = testing_support::complaint([] { measureFromName("grams"); });
  EXPECT_NE(said.find("\"grams\""), std::string::npos) << said;
  for (const char* name : {"gram", "moments", "sliced", "neighbours", "critic"}) {
    EXPECT_EQ(nameOf(measureFromName(name)), name);
    EXPECT_NE(said.find(name), std::string::npos) << said;
  }
}

}  // namespace
}  // namespace jugendstil
