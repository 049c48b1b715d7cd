// SPDX-License-Identifier: Apache-2.0
#include "learn/net_pass.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "base/parallel.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::refusal;
using Kind = NetLayer::Kind;

constexpr int kWidth = 48;
constexpr int kHeight = 40;

Planes drawn(std::uint64_t seed, int width = kWidth, int height = kHeight) {
  std::mt19937_64 random(seed);
  std::normal_distribution<float> normal(0, 0.3F);
  Planes planes(width, height);
  for (auto& plane : planes.plane) {
    for (float& v : plane) v = normal(random);
  }
  return planes;
}

Net netOf(std::vector<NetLayer> layers) {
  Net net;
  net.layers = std::move(layers);
  net.parameters = firstParameters(net, 5);
  // Nothing is to stand at a value that would hide it.
  std::mt19937_64 random(6);
  std::normal_distribution<float> normal(0, 0.1F);
  for (float& p : net.parameters) p += normal(random);
  return net;
}

// Every kind of layer; one is taken by two, and channels do not fill their blocks.
Net smallNet() {
  return netOf({{.outputs = 10, .kernel = 5},
                {.kind = Kind::normalisation, .from = 0, .outputs = 10, .rectified = true},
                {.from = 1, .outputs = 20, .stride = 2, .rectified = true},
                {.from = 2, .outputs = 20},
                {.kind = Kind::normalisation, .from = 3, .outputs = 20},
                {.kind = Kind::sum, .from = 2, .also = 4, .outputs = 20},
                {.kind = Kind::enlarging, .from = 5, .outputs = 20},
                {.from = 6, .outputs = 3}});
}

double along(const Planes& a, const Planes& b) {
  double sum = 0;
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < a.area(); ++i)
      sum += static_cast<double>(a.plane[c][i]) * static_cast<double>(b.plane[c][i]);
  }
  return sum;
}

// The gradient to each layer's parameters along random directions, against central differences of the inner
// product of the result with a probe.
void expectGradients(Net net, double tolerance) {
  const Planes picture = drawn(1);
  const Planes probe = drawn(2);
  NetPass pass(net, kWidth, kHeight, NetPass::Use::learning);
  pass.forward(picture);
  std::vector<float> gradient(net.parameters.size());
  pass.backward(probe, gradient);
  const std::vector<float> at = net.parameters;
  constexpr float kStep = 1.5e-4F;
  for (int layer = 0; layer < static_cast<int>(net.layers.size()); ++layer) {
    const std::size_t first = net.firstParameter(layer);
    const std::size_t count = net.parameterCount(layer);
    if (count == 0) continue;
    std::mt19937_64 random(9);
    std::normal_distribution<float> normal;
    std::vector<float> direction(count);
    double slope = 0;
    for (std::size_t i = 0; i < count; ++i) {
      // A part along the gradient keeps the slope away from 0.
      direction[i] = normal(random) + (gradient[first + i] > 0 ? 1.0F : -1.0F);
      slope += static_cast<double>(direction[i]) * static_cast<double>(gradient[first + i]);
    }
    const auto valueAt = [&](float step) {
      net.parameters = at;
      for (std::size_t i = 0; i < count; ++i) net.parameters[first + i] += step * direction[i];
      return along(pass.forward(picture), probe);
    };
    const double measured = (valueAt(kStep) - valueAt(-kStep)) / (2 * static_cast<double>(kStep));
    EXPECT_NEAR(measured, slope, tolerance * std::fabs(slope)) << "layer " << layer + 1;
  }
}

TEST(NetPass, GradientsOfAConvolutionAreThoseOfDifferences) {
  expectGradients(netOf({{.outputs = 3}}), 1e-3);
}

TEST(NetPass, GradientsThroughAStrideAndAnEnlargingAreThoseOfDifferences) {
  expectGradients(netOf({{.outputs = 18, .stride = 2},
                         {.kind = Kind::enlarging, .from = 0, .outputs = 18},
                         {.from = 1, .outputs = 3}}),
                  2e-3);
}

TEST(NetPass, GradientsThroughNormalisationsAreThoseOfDifferences) {
  expectGradients(netOf({{.outputs = 17},
                         {.kind = Kind::normalisation, .from = 0, .outputs = 17},
                         {.from = 1, .outputs = 3},
                         {.kind = Kind::normalisation, .from = 2, .outputs = 3}}),
                  2e-3);
}

TEST(NetPass, GradientsThroughEveryKindOfLayerAreThoseOfDifferences) { expectGradients(smallNet(), 1e-2); }

TEST(NetPass, BackwardAddsToWhatIsThere) {
  const Net net = smallNet();
  NetPass pass(net, kWidth, kHeight, NetPass::Use::learning);
  pass.forward(drawn(1));
  std::vector<float> once(net.parameters.size());
  pass.backward(drawn(2), once);
  std::vector<float> twice = once;
  pass.backward(drawn(2), twice);
  for (std::size_t i = 0; i < once.size(); ++i) EXPECT_FLOAT_EQ(twice[i], 2 * once[i]);
}

TEST(NetPass, PaintingGivesWhatLearningGives) {
  const Net net = smallNet();
  NetPass learning(net, kWidth, kHeight, NetPass::Use::learning);
  NetPass painting(net, kWidth, kHeight, NetPass::Use::painting);
  for (const std::uint64_t seed : {3, 4}) {
    const Planes picture = drawn(seed);
    EXPECT_EQ(painting.forward(picture).plane, learning.forward(picture).plane);
  }
}

TEST(NetPass, TheNumberOfThreadsDoesNotChangeAPainting) {
  const Net net = smallNet();
  const int threads = threadCount();
  std::vector<std::array<std::vector<float>, 3>> results;
  for (const int n : {1, 3}) {
    setThreads(n);
    NetPass pass(net, kWidth, kHeight, NetPass::Use::painting);
    results.push_back(pass.forward(drawn(3)).plane);
  }
  setThreads(threads);
  EXPECT_EQ(results[0], results[1]);
}

TEST(NetPass, ANormalisationGivesMeanNoughtAndDeviationOneOfWhatItTakes) {
  Net net = netOf({{.outputs = 3, .kernel = 1}, {.kind = Kind::normalisation, .from = 0, .outputs = 3}});
  const std::size_t own = net.firstParameter(1);
  for (std::size_t c = 0; c < 3; ++c) {
    net.parameters[own + c] = 2;
    net.parameters[own + 3 + c] = -1;
  }
  NetPass pass(net, kWidth, kHeight, NetPass::Use::painting);
  const Planes out = pass.forward(drawn(3));
  for (const auto& plane : out.plane) {
    double sum = 0;
    double squares = 0;
    for (const float v : plane) {
      sum += static_cast<double>(v);
      squares += (static_cast<double>(v) + 1) * (static_cast<double>(v) + 1);
    }
    EXPECT_NEAR(sum / static_cast<double>(plane.size()), -1, 1e-5);
    EXPECT_NEAR(std::sqrt(squares / static_cast<double>(plane.size())), 2, 1e-3);
  }
}

// A picture of another brightness comes out brighter when moments are held, and the same when they are not.
TEST(NetPass, HeldMomentsAreTakenWhateverThePicture) {
  const Net net =
      netOf({{.outputs = 3, .kernel = 1}, {.kind = Kind::normalisation, .from = 0, .outputs = 3}});
  NetPass pass(net, kWidth, kHeight, NetPass::Use::painting);
  const Planes picture = drawn(3);
  Planes brighter = picture;
  for (auto& plane : brighter.plane) {
    for (float& v : plane) v += 0.25F;
  }
  const Planes own = pass.forward(picture);
  const std::vector<float> moments = pass.moments();
  EXPECT_NEAR(along(pass.forward(brighter), own), along(own, own), 1e-3 * along(own, own));
  pass.holdMoments(moments);
  EXPECT_EQ(pass.forward(picture).plane, own.plane);
  EXPECT_GT(std::fabs(pass.forward(brighter).plane[0][0] - own.plane[0][0]), 0.05F);
  EXPECT_EQ(pass.moments(), moments);
  pass.holdMoments({});
  EXPECT_NEAR(along(pass.forward(brighter), own), along(own, own), 1e-3 * along(own, own));
  EXPECT_EQ(refusal([&] { pass.holdMoments({1, 2}); }), "the moments to hold are of another network");
}

TEST(NetPass, SizesThatCannotBeHalvedAreRefused) {
  const Net net = painterNet(1);
  EXPECT_EQ(refusal([&] { NetPass(net, 30, 32, NetPass::Use::painting); }),
            "a network that halves its picture to 1/4 cannot take 30x32 pixels");
}

}  // namespace
}  // namespace jugendstil
