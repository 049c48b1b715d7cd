// SPDX-License-Identifier: Apache-2.0
#include "style/surface.h"

#include <gtest/gtest.h>

#include "support/gradient.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

TEST(Smoothness, GradientMatchesFiniteDifferencesAtEverySize) {
  for (const auto& [w, h] : {std::pair{24, 17}, std::pair{2, 9}, std::pair{16, 2}}) {
    const Planes p = opponentOf(sample(w, h));
    Planes gradient(w, h);
    smoothness(p, 0.3, 1.0, gradient);
    const auto value = [&, w = w, h = h](const Planes& at) {
      Planes unused(w, h);
      return smoothness(at, 0.3, 1.0, unused);
    };
    testing_support::expectGradient(value, p, gradient, 1e-2F, 0.01);
  }
}

TEST(Smoothness, IsTheMeanSquaredDifference) {
  Planes p(2, 2);
  p.plane[0] = {0, 1, 0, 0};
  Planes gradient(2, 2);
  EXPECT_NEAR(smoothness(p, 0.5, 1.0, gradient), 0.5 * (1 + 1) / 4, 1e-6);
}

TEST(Range, OnlyWhatLiesOutsideCosts) {
  Planes rgb(2, 1);
  rgb.plane[0] = {-0.5F, 0.5F};
  rgb.plane[1] = {0.0F, 1.0F};
  rgb.plane[2] = {1.25F, 0.2F};
  Planes gradient(2, 1);
  EXPECT_NEAR(rangePenalty(rgb, 2.0, gradient), 2.0 * (0.25 + 0.0625) / 6, 1e-6);
  EXPECT_LT(gradient.plane[0][0], 0);
  EXPECT_GT(gradient.plane[2][0], 0);
  EXPECT_EQ(gradient.plane[1][1], 0);
}

TEST(Colour, GradientMatchesFiniteDifferences) {
  const Planes reference = opponentOf(sample(50, 40, 4));
  ColourTerm term(colourSamples({reference}, {1.0}, 4000), 1);
  Image dark = sample(32, 24, 2);
  for (float& v : dark.pixels) v *= 0.5F;
  const Planes p = opponentOf(dark);
  Planes gradient(32, 24);
  term.evaluate(p, 1.0, 3, gradient);
  const auto value = [&](const Planes& at) {
    Planes unused(32, 24);
    return term.evaluate(at, 1.0, 3, unused);
  };
  testing_support::expectGradient(value, p, gradient, 1e-3F, 0.03);
}

TEST(Colour, TheReferencesOwnColoursCostNothingInAnyOrder) {
  const Image reference = sample(40, 40, 4);
  ColourTerm term(colourSamples({opponentOf(reference)}, {1.0}, 100000), 1);
  Image turned = reference;
  for (std::size_t i = 0; i < turned.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c)
      turned.pixels[i * 3 + c] = reference.pixels[(turned.area() - 1 - i) * 3 + c];
  }
  Planes gradient(40, 40);
  EXPECT_LT(term.evaluate(opponentOf(turned), 1.0, 0, gradient), 1e-3);
  EXPECT_GT(term.evaluate(opponentOf(Image(40, 40, 3, 0.0F)), 1.0, 0, gradient), 1.0);
}

TEST(Colour, SamplesComeByShare) {
  const auto rows = colourSamples({opponentOf(Image(30, 30, 3, 0.0F)), opponentOf(Image(10, 10, 3, 1.0F))},
                                  {1.0, 3.0}, 4000);
  double light = 0;
  for (std::size_t i = 0; i < rows.size(); i += 3) light += rows[i] > 1 ? 1 : 0;
  EXPECT_NEAR(light / (static_cast<double>(rows.size()) / 3), 0.75, 0.01);
}

}  // namespace
}  // namespace jugendstil
