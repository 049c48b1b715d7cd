// SPDX-License-Identifier: Apache-2.0
#include <gtest/gtest.h>

#include <cmath>
#include <random>
#include <vector>

#include "learn/blocked_layout.h"
#include "learn/make_operation.h"

namespace jugendstil {
namespace {

using Kind = NetLayer::Kind;

constexpr int kWidth = 12;
constexpr int kHeight = 10;

// An activation with memory of its own.
struct Values {
  explicit Values(const Layout& l) : layout(l), memory(l.size()) {}
  Buffer buffer() { return {memory.data(), false, layout}; }
  Layout layout;
  std::vector<float> memory;
};

// The same values by channel and position, however channels are blocked.
Values drawn(const Layout& layout, std::uint64_t seed) {
  Values values(layout);
  std::mt19937_64 random(seed);
  std::normal_distribution<float> normal;
  for (int c = 0; c < layout.channels; ++c) {
    for (int p = 0; p < layout.height * layout.width; ++p) values.memory[layout.at(c, p)] = normal(random);
  }
  return values;
}

std::vector<float> parametersFor(const NetLayer& layer, int inputs) {
  Net net;
  net.channels = inputs;
  net.layers = {layer};
  return firstParameters(net, 4);
}

Values through(const NetLayer& layer, Values& source, const Blocking& blocking) {
  const auto operation = makeOperation(layer, source.layout, blocking);
  Values target(operation->output());
  const std::vector<float> parameters = parametersFor(layer, source.layout.channels);
  std::vector<float> moments(2 * static_cast<std::size_t>(layer.outputs));
  operation->forward({.parameters = parameters,
                      .source = source.buffer(),
                      .also = source.buffer(),
                      .target = target.buffer(),
                      .moments = moments});
  return target;
}

std::vector<float> pulledBack(const NetLayer& layer, Values& source, Values& gradient,
                              const Blocking& blocking) {
  const auto operation = makeOperation(layer, source.layout, blocking);
  Values target = through(layer, source, blocking);
  Values back(source.layout);
  const std::vector<float> parameters = parametersFor(layer, source.layout.channels);
  std::vector<float> slope(parameters.size());
  std::vector<float> moments(2 * static_cast<std::size_t>(layer.outputs), 0.5F);
  operation->backward({.parameters = parameters,
                       .source = source.buffer(),
                       .target = target.buffer(),
                       .moments = moments,
                       .gradient = gradient.buffer(),
                       .sourceGradient = back.buffer(),
                       .parameterGradient = slope});
  std::vector<float> all = toDense(back.buffer());
  all.insert(all.end(), slope.begin(), slope.end());
  return all;
}

const std::vector<NetLayer>& kinds() {
  static const std::vector<NetLayer> all{
      {.outputs = 21, .rectified = true},
      {.outputs = 5, .kernel = 5, .stride = 2},
      {.outputs = 34},
      {.kind = Kind::normalisation, .outputs = 35, .rectified = true},
      {.kind = Kind::enlarging, .outputs = 35},
      {.kind = Kind::sum, .outputs = 35},
  };
  return all;
}

// Processors differ in how they block channels; what is computed must not.
TEST(Operation, EveryBlockGivesTheSame) {
  for (const NetLayer& layer : kinds()) {
    std::vector<std::vector<float>> forward;
    std::vector<std::vector<float>> backward;
    for (const int block : {16, 8, 0}) {
      Values source = drawn(blockedLayout(35, kWidth, kHeight, {block}), 1);
      Values target = through(layer, source, {block});
      forward.push_back(toDense(target.buffer()));
      Values gradient = drawn(target.layout, 2);
      backward.push_back(pulledBack(layer, source, gradient, {block}));
    }
    for (const std::size_t other : {1U, 2U}) {
      ASSERT_EQ(forward[other].size(), forward[0].size());
      ASSERT_EQ(backward[other].size(), backward[0].size());
      for (std::size_t i = 0; i < forward[0].size(); ++i)
        ASSERT_NEAR(forward[other][i], forward[0][i], 1e-4F) << layer.outputs << " channels, block " << other;
      for (std::size_t i = 0; i < backward[0].size(); ++i)
        ASSERT_NEAR(backward[other][i], backward[0][i], 2e-3F)
            << layer.outputs << " channels, block " << other;
    }
  }
}

TEST(Operation, EnlargingKeepsWhatIsLevelAndItsGradientIsTheTranspose) {
  const NetLayer layer{.kind = Kind::enlarging, .outputs = 3};
  const Layout layout = blockedLayout(3, kWidth, kHeight, {16});
  Values level(layout);
  for (int c = 0; c < 3; ++c) {
    for (int p = 0; p < kWidth * kHeight; ++p) level.memory[layout.at(c, p)] = 0.25F;
  }
  for (const float v : toDense(through(layer, level, {16}).buffer())) EXPECT_EQ(v, 0.25F);
  Values a = drawn(layout, 1);
  Values enlarged = through(layer, a, {16});
  Values g = drawn(enlarged.layout, 2);
  const std::vector<float> back = pulledBack(layer, a, g, {16});
  const std::vector<float> first = toDense(a.buffer());
  double there = 0;
  double here = 0;
  for (std::size_t i = 0; i < g.memory.size(); ++i)
    there += static_cast<double>(enlarged.memory[i]) * static_cast<double>(g.memory[i]);
  for (std::size_t i = 0; i < first.size(); ++i)
    here += static_cast<double>(first[i]) * static_cast<double>(back[i]);
  EXPECT_NEAR(there, here, 1e-4 * std::fabs(here));
}

// Nothing may stand where a block has room for more channels than there are: the next layer would take it.
TEST(Operation, RoomForMoreChannelsStaysEmpty) {
  for (const NetLayer& layer : kinds()) {
    Values source = drawn(blockedLayout(35, kWidth, kHeight, {16}), 1);
    const Values target = through(layer, source, {16});
    const int full = target.layout.blocks * target.layout.inner;
    for (int c = target.layout.channels; c < full; ++c) {
      for (int p = 0; p < target.layout.height * target.layout.width; ++p)
        ASSERT_EQ(target.memory[target.layout.at(c, p)], 0.0F) << layer.outputs << " channels";
    }
  }
}

}  // namespace
}  // namespace jugendstil
