// SPDX-License-Identifier: Apache-2.0
#include "learn/net.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::refusal;
using Kind = NetLayer::Kind;

TEST(Net, ThePaintersNetworkIsSoundAndWorksAtAQuarter) {
  const Net net = painterNet(1);
  EXPECT_NO_THROW(requireSound(net));
  EXPECT_EQ(net.largestShrink(), 4);
  EXPECT_EQ(net.shrinkOf(static_cast<int>(net.layers.size()) - 1), 1);
  EXPECT_EQ(net.layers.back().outputs, 3);
}

TEST(Net, EqualSeedsGiveEqualParametersAndOthersDoNot) {
  EXPECT_EQ(painterNet(7).parameters, painterNet(7).parameters);
  EXPECT_NE(painterNet(7).parameters, painterNet(8).parameters);
}

// He et al.: a variance of two over what goes into a value.
TEST(Net, WeightsAreDrawnWithTheSpreadThatKeepsValues) {
  Net net;
  net.layers = {{.kind = Kind::convolution, .outputs = 64},
                {.kind = Kind::convolution, .from = 0, .outputs = 64}};
  const std::vector<float> all = firstParameters(net, 3);
  ASSERT_EQ(all.size(), net.firstParameter(2));
  const std::size_t count = net.parameterCount(0) - 64;
  double sum = 0;
  double squares = 0;
  for (std::size_t i = 0; i < count; ++i) {
    sum += static_cast<double>(all[i]);
    squares += static_cast<double>(all[i]) * static_cast<double>(all[i]);
  }
  EXPECT_NEAR(sum / static_cast<double>(count), 0, 0.03);
  EXPECT_NEAR(squares / static_cast<double>(count), 2.0 / 27, 0.006);
  EXPECT_TRUE(std::all_of(&all[count], &all[count + 64], [](float bias) { return bias == 0; }));
}

TEST(Net, ParametersStandLayerByLayer) {
  Net net;
  net.layers = {{.kind = Kind::convolution, .outputs = 5, .kernel = 3},
                {.kind = Kind::normalisation, .from = 0, .outputs = 5},
                {.kind = Kind::convolution, .from = 1, .outputs = 2, .kernel = 1}};
  EXPECT_EQ(net.firstParameter(1), 5U * 3 * 9 + 5);
  EXPECT_EQ(net.firstParameter(2), net.firstParameter(1) + 10);
  EXPECT_EQ(net.parameterCount(2), 2U * 5 + 2);
}

TEST(Net, WhatDoesNotFitIsRefusedByItsLayer) {
  const auto complaintOf = [](std::vector<NetLayer> layers) {
    Net net;
    net.layers = std::move(layers);
    return refusal([&] { requireSound(net); });
  };
  const NetLayer first{.outputs = 4};
  EXPECT_EQ(complaintOf({}), "the network has no layers");
  EXPECT_EQ(complaintOf({first, {.from = 1, .outputs = 4}}),
            "layer 2 of the network takes what does not stand before it");
  EXPECT_EQ(complaintOf({{.outputs = 4, .kernel = 2}}),
            "layer 1 of the network has a kernel that it cannot have");
  EXPECT_EQ(complaintOf({first, {.kind = Kind::normalisation, .from = 0, .outputs = 5}}),
            "layer 2 of the network gives other channels than it takes");
  EXPECT_EQ(complaintOf({first, {.kind = Kind::enlarging, .from = 0, .outputs = 4}}),
            "layer 2 of the network enlarges beyond the picture's own size");
  EXPECT_EQ(complaintOf({first,
                         {.from = 0, .outputs = 4, .stride = 2},
                         {.kind = Kind::sum, .from = 0, .also = 1, .outputs = 4}}),
            "layer 3 of the network adds what has another size or other channels");
  std::vector<NetLayer> smaller;
  for (int i = 0; i < 40; ++i) smaller.push_back({.from = i - 1, .outputs = 4, .stride = 2});
  EXPECT_EQ(complaintOf(smaller), "layer 7 of the network halves the picture too often");
  EXPECT_EQ(complaintOf({first}), "the network's layers and its parameters do not fit each other");
}

}  // namespace
}  // namespace jugendstil
