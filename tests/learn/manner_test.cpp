// SPDX-License-Identifier: Apache-2.0
#include "learn/manner.h"

#include <gtest/gtest.h>

#include <random>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::refusal;
using testing_support::smallChain;
using testing_support::strokes;

std::vector<float> numbers(std::size_t count, std::uint64_t seed) {
  std::mt19937_64 random(seed);
  std::vector<float> all(count);
  for (float& v : all) v = static_cast<float>(random() >> 40) * 0x1p-23F - 1;
  return all;
}

// With something in all of its parts.
MannerNet filled() {
  MannerNet net = mannerNet(numbers(7, 1), std::vector<float>(7, 0.5F), numbers(5, 2), 3);
  net.parameters = numbers(net.parameters.size(), 4);
  return net;
}

ReferenceTargets targetsOf(const Image& reference) {
  return measureReferences(smallChain(), {{reference, 1}}, {96, 72}, 1, MeasureKind::gram, Precision::full);
}

TEST(Manner, SaysHowAReferenceIsPaintedAndHowStronglyTheDrawingIsHeld) {
  const std::vector<float> across = mannerOf(targetsOf(strokes(96, 96, true)), 50);
  const std::vector<float> along = mannerOf(targetsOf(strokes(96, 96, false)), 50);
  std::vector<float> held = mannerOf(targetsOf(strokes(96, 96, true)), 80);
  ASSERT_EQ(across.size(), along.size());
  EXPECT_NE(across, along);
  EXPECT_FLOAT_EQ(held.back(), 0.8F);
  held.back() = 0.5F;
  EXPECT_EQ(across, held);
}

TEST(Manner, GivesWhatItBeginsWithUntilItHasLearned) {
  const MannerNet net = mannerNet(numbers(7, 1), std::vector<float>(7, 0.5F), numbers(5, 2), 3);
  MannerPass pass(net);
  EXPECT_EQ(pass.forward(numbers(7, 9)), numbers(5, 2));
}

TEST(Manner, GradientsAreThoseOfFiniteDifferences) {
  MannerNet net = filled();
  const std::vector<float> manner = numbers(7, 5);
  const std::vector<float> slope = numbers(5, 6);
  MannerPass pass(net);
  const auto value = [&] {
    double sum = 0;
    const std::vector<float>& out = pass.forward(manner);
    for (std::size_t i = 0; i < out.size(); ++i) sum += double{slope[i]} * out[i];
    return sum;
  };
  value();
  std::vector<float> gradient(net.parameters.size());
  pass.backward(slope, gradient);
  int moving = 0;
  for (std::size_t i = 0; i < gradient.size(); i += 3) {
    const float own = net.parameters[i];
    net.parameters[i] = own + 1e-2F;
    const double above = value();
    net.parameters[i] = own - 1e-2F;
    const double below = value();
    net.parameters[i] = own;
    EXPECT_NEAR((above - below) / 2e-2, gradient[i], 1e-3) << i;
    moving += gradient[i] != 0 ? 1 : 0;
  }
  EXPECT_GT(moving, 50);
}

TEST(Manner, PlacesAreTheNormalisationsScalesAndShifts) {
  const Net net = painterNet(1);
  const std::vector<std::size_t> places = normalisationPlaces(net);
  std::size_t count = 0;
  for (std::size_t i = 0; i < net.layers.size(); ++i) {
    if (net.layers[i].kind == NetLayer::Kind::normalisation) count += 2 * net.layers[i].outputs;
  }
  ASSERT_EQ(places.size(), count);
  // Of the first one: scales are 1 at first, shifts 0.
  EXPECT_EQ(net.parameters[places[0]], 1);
  EXPECT_EQ(net.parameters[places[net.layers[2].outputs]], 0);
}

TEST(Manner, RefusesAnotherLength) {
  const MannerNet net = filled();
  MannerPass pass(net);
  EXPECT_EQ(refusal([&] { pass.forward(numbers(6, 1)); }),
            "a manner of 6 numbers was given where 7 are taken");
}

}  // namespace
}  // namespace jugendstil
