// SPDX-License-Identifier: Apache-2.0
#include "network/evaluator.h"

#include <gtest/gtest.h>

#include <cmath>
#include <cstring>
#include <random>

#include "base/error.h"
#include "image/planes.h"
#include "support/support.h"

namespace jugendstil {
namespace {

std::vector<float> stored(const std::string& name) {
  const std::string bytes =
      testing_support::contentOf(testing_support::sourceFolder() / "tests" / "data" / "network" / name);
  std::vector<float> values(bytes.size() / sizeof(float));
  std::memcpy(values.data(), bytes.data(), values.size() * sizeof(float));
  return values;
}

// ||a - b|| / ||b||
double relativeError(const std::vector<float>& a, const std::vector<float>& b) {
  EXPECT_EQ(a.size(), b.size());
  double difference = 0;
  double norm = 0;
  for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i) {
    difference += std::pow(static_cast<double>(a[i]) - static_cast<double>(b[i]), 2);
    norm += std::pow(static_cast<double>(b[i]), 2);
  }
  return std::sqrt(difference / std::max(norm, 1e-30));
}

std::vector<float> channelsFirst(const std::vector<float>& rows, int channels) {
  std::vector<float> out(rows.size());
  const auto c = static_cast<std::size_t>(channels);
  const std::size_t positions = rows.size() / c;
  for (std::size_t p = 0; p < positions; ++p) {
    for (std::size_t k = 0; k < c; ++k) out[k * positions + p] = rows[p * c + k];
  }
  return out;
}

std::vector<std::size_t> allBands(const Chain& chain) {
  std::vector<std::size_t> bands;
  for (std::size_t b = 0; b < chain.bands.size(); ++b) bands.push_back(b);
  return bands;
}

void forward(Evaluator& e, const Planes& p) { e.forward(p.plane[0], p.plane[1], p.plane[2]); }

Planes randomPlanes(int w, int h) {
  Planes p(w, h);
  std::mt19937 random(3);
  std::uniform_real_distribution<float> unit;
  for (auto& plane : p.plane) {
    for (float& v : plane) v = unit(random);
  }
  return p;
}

class StoredReference : public testing::TestWithParam<Precision> {};

TEST_P(StoredReference, BandsAndGradientAgreeWithTheIndependentImplementation) {
  const bool half = GetParam() == Precision::half;
  if (half && !processorHasHalf()) GTEST_SKIP() << "no bf16 on this processor";
  const Chain chain = testing_support::filigree();
  Planes p(104, 72);
  const auto image = stored("image_3x72x104.f32");
  for (std::size_t c = 0; c < 3; ++c)
    std::copy_n(image.begin() + static_cast<std::ptrdiff_t>(c * p.area()), p.area(), p.plane[c].begin());
  Evaluator evaluator(chain, 104, 72, GetParam(), allBands(chain));
  forward(evaluator, p);
  const double tolerance = half ? 0.02 : 1e-4;
  for (std::size_t b = 0; b < chain.bands.size(); ++b) {
    const BandShape shape = evaluator.shape(b);
    const std::string name = chain.bands[b].name + "_" + std::to_string(shape.channels) + "x" +
                             std::to_string(shape.height) + "x" + std::to_string(shape.width) + ".f32";
    EXPECT_LT(relativeError(channelsFirst(evaluator.activations(b), shape.channels), stored(name)), tolerance)
        << name;
  }
  // The stored gradient is of the sum over bands of mean(a^2)/2, whose slope is a/n: a linear map.
  Planes gradient(104, 72);
  evaluator.backward(
      [&](std::size_t b, BandGradient& sink) {
        const auto channels = static_cast<std::size_t>(evaluator.shape(b).channels);
        std::vector<float> identity(channels * channels, 0.0F);
        const std::vector<float> zero(channels, 0.0F);
        for (std::size_t c = 0; c < channels; ++c)
          identity[c * channels + c] =
              1.0F / static_cast<float>(channels * static_cast<std::size_t>(evaluator.shape(b).positions()));
        sink.addLinear(identity, zero, zero);
      },
      gradient.plane[0], gradient.plane[1], gradient.plane[2]);
  std::vector<float> flat;
  for (const auto& plane : gradient.plane) flat.insert(flat.end(), plane.begin(), plane.end());
  // In bf16 about one ReLU in a hundred falls on the other side of zero; the direction stays.
  EXPECT_LT(relativeError(flat, stored("gradient_3x72x104.f32")), half ? 0.25 : 1e-4);
}

INSTANTIATE_TEST_SUITE_P(Precisions, StoredReference, testing::Values(Precision::full, Precision::half));

// Odd sizes drop rows and columns at every pooling; the gradient must still be exact.
class AnySize : public testing::TestWithParam<std::tuple<std::pair<int, int>, Pooling>> {};

TEST_P(AnySize, GradientMatchesFiniteDifferences) {
  const auto [size, pooling] = GetParam();
  const auto [w, h] = size;
  const Chain chain = testing_support::smallChain(pooling);
  Evaluator evaluator(chain, w, h, Precision::full, {0, 1, 2});
  const Planes p = randomPlanes(w, h);
  const auto value = [&](const Planes& at) {
    forward(evaluator, at);
    double sum = 0;
    for (std::size_t b = 0; b < 3; ++b) {
      for (const float a : evaluator.activations(b))
        sum += 0.5 * static_cast<double>(a) * static_cast<double>(a);
    }
    return sum;
  };
  value(p);
  Planes gradient(w, h);
  evaluator.backward(
      [&](std::size_t b, BandGradient& sink) {
        const auto channels = static_cast<std::size_t>(evaluator.shape(b).channels);
        std::vector<float> identity(channels * channels, 0.0F);
        for (std::size_t c = 0; c < channels; ++c) identity[c * channels + c] = 1;
        sink.addLinear(identity, std::vector<float>(channels, 0.0F), std::vector<float>(channels, 0.0F));
      },
      gradient.plane[0], gradient.plane[1], gradient.plane[2]);
  const Planes direction = randomPlanes(w, h);
  double slope = 0;
  Planes plus = p;
  Planes minus = p;
  constexpr float kStep = 1e-3F;
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < p.area(); ++i) {
      const float d = direction.plane[c][i] - 0.5F;
      slope += static_cast<double>(gradient.plane[c][i]) * static_cast<double>(d);
      plus.plane[c][i] += kStep * d;
      minus.plane[c][i] -= kStep * d;
    }
  }
  EXPECT_NEAR((value(plus) - value(minus)) / (2.0 * static_cast<double>(kStep)), slope,
              0.01 * std::fabs(slope) + 0.5);
}

INSTANTIATE_TEST_SUITE_P(Sizes, AnySize,
                         testing::Combine(testing::Values(std::pair{32, 16}, std::pair{33, 17},
                                                          std::pair{7, 40}, std::pair{19, 4}),
                                          testing::Values(Pooling::average, Pooling::maximum)));

TEST(Evaluator, StatisticsAgreeWithTheActivations) {
  const Chain chain = testing_support::smallChain();
  for (const Precision precision : {Precision::full, Precision::half}) {
    if (precision == Precision::half && !processorHasHalf()) continue;
    // 45x37 positions: neither a multiple of the chunk nor of a block.
    Evaluator evaluator(chain, 45, 37, precision, {0, 2});
    forward(evaluator, randomPlanes(45, 37));
    for (const std::size_t b : {std::size_t{0}, std::size_t{2}}) {
      const auto a = evaluator.activations(b);
      const auto channels = static_cast<std::size_t>(evaluator.shape(b).channels);
      const std::size_t positions = a.size() / channels;
      const auto gram = evaluator.gram(b);
      const auto mean = evaluator.mean(b);
      for (const auto& [i, j] : {std::pair<std::size_t, std::size_t>{0, 0}, {3, 11}, {15, 2}}) {
        double product = 0;
        double sum = 0;
        for (std::size_t p = 0; p < positions; ++p) {
          product += static_cast<double>(a[p * channels + i]) * static_cast<double>(a[p * channels + j]);
          sum += static_cast<double>(a[p * channels + i]);
        }
        EXPECT_NEAR(gram[i * channels + j], product / static_cast<double>(positions),
                    2e-4 * (1 + std::fabs(product) / static_cast<double>(positions)));
        EXPECT_NEAR(mean[i], sum / static_cast<double>(positions), 1e-4);
      }
      std::vector<float> direction(channels, 0.0F);
      direction[3] = 1;
      const auto projected = evaluator.project(b, direction);
      EXPECT_NEAR(projected[5], a[5 * channels + 3], 1e-6F);
      const std::vector<int> positionsAsked{7, 2};
      EXPECT_EQ(evaluator.gather(b, positionsAsked)[channels + 4], a[2 * channels + 4]);
      EXPECT_EQ(evaluator.squaredDistance(b, evaluator.keep(b)), 0.0);
    }
  }
}

// All ways of giving a gradient say the same thing where they can.
TEST(Evaluator, GradientTermsAddUp) {
  const Chain chain = testing_support::smallChain();
  Evaluator evaluator(chain, 24, 24, Precision::full, {1});
  const Planes p = randomPlanes(24, 24);
  forward(evaluator, p);
  const auto kept = evaluator.keep(1);
  const auto channels = static_cast<std::size_t>(evaluator.shape(1).channels);
  const auto positions = static_cast<std::size_t>(evaluator.shape(1).positions());
  const auto run = [&](const FillGradient& fill) {
    Planes g(24, 24);
    evaluator.backward(fill, g.plane[0], g.plane[1], g.plane[2]);
    return g.plane[1];
  };
  std::vector<float> identity(channels * channels, 0.0F);
  for (std::size_t c = 0; c < channels; ++c) identity[c * channels + c] = 2;
  const std::vector<float> zero(channels, 0.0F);
  const auto linear = run([&](std::size_t, BandGradient& s) { s.addLinear(identity, zero, zero); });
  std::vector<float> doubled = evaluator.activations(1);
  for (float& v : doubled) v *= 2;
  std::vector<int> everywhere(positions);
  for (std::size_t i = 0; i < positions; ++i) everywhere[i] = static_cast<int>(i);
  const auto sparse = run([&](std::size_t, BandGradient& s) { s.addAt(everywhere, doubled); });
  EXPECT_LT(relativeError(sparse, linear), 1e-5);
  const auto twice = run([&](std::size_t, BandGradient& s) {
    s.addLinear(identity, zero, zero);
    s.addAt(everywhere, doubled);
    s.addDifference(kept, 5);  // nothing: the activation is the kept one
  });
  for (std::size_t i = 0; i < linear.size(); ++i)
    EXPECT_NEAR(twice[i], 2 * linear[i], 1e-3F + 1e-4F * std::fabs(linear[i]));
  // A difference from nothing, by weights: as the same values at every position.
  const auto plain = run([&](std::size_t, BandGradient& s) {
    KeptActivation weighted{std::shared_ptr<const std::byte[]>(new std::byte[kept.size]()), kept.size,
                            std::vector<float>(positions, 0.0F)};
    for (std::size_t i = 0; i < positions; i += 3) weighted.weights[i] = 2;
    s.addDifference(weighted, 0.5F);
  });
  std::vector<int> third;
  std::vector<float> own;
  const std::vector<float> all = evaluator.activations(1);
  for (std::size_t i = 0; i < positions; i += 3) {
    third.push_back(static_cast<int>(i));
    own.insert(own.end(), all.begin() + i * channels, all.begin() + (i + 1) * channels);
  }
  EXPECT_LT(relativeError(plain, run([&](std::size_t, BandGradient& s) { s.addAt(third, own); })), 1e-5);
  std::vector<float> directions(2 * channels, 0.0F);
  directions[4] = 1;
  directions[channels + 9] = 3;
  std::vector<float> values(2 * positions, 0.25F);
  std::vector<float> rows(positions * channels, 0.0F);
  for (std::size_t i = 0; i < positions; ++i) {
    rows[i * channels + 4] = 0.25F;
    rows[i * channels + 9] = 0.75F;
  }
  const auto projected = run([&](std::size_t, BandGradient& s) { s.addProjected(directions, values); });
  const auto same = run([&](std::size_t, BandGradient& s) { s.addAt(everywhere, rows); });
  EXPECT_LT(relativeError(projected, same), 1e-5);
}

TEST(Evaluator, TooSmallAPictureIsRefused) {
  const Chain chain = testing_support::filigree();
  EXPECT_THROW(Evaluator(chain, 15, 40, Precision::full, allBands(chain)), Error);
}

}  // namespace
}  // namespace jugendstil
