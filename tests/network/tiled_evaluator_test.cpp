// SPDX-License-Identifier: Apache-2.0
// In tiles everything is as it is in one piece.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "image/planes.h"
#include "network/tiling.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::filigree;
using testing_support::sample;
using testing_support::smallChain;

Planes planesOf(int width, int height, unsigned seed) {
  Planes rgb(width, height);
  opponentToRgb(opponentOf(sample(width, height, seed)), rgb);
  return rgb;
}

void show(Evaluator& evaluator, const Planes& p) { evaluator.forward(p.plane[0], p.plane[1], p.plane[2]); }

// Distance of two vectors as a part of the first one's length.
double apart(const std::vector<float>& a, const std::vector<float>& b) {
  EXPECT_EQ(a.size(), b.size());
  double difference = 0;
  double length = 0;
  for (std::size_t i = 0; i < a.size(); ++i) {
    difference += std::pow(static_cast<double>(a[i] - b[i]), 2);
    length += std::pow(static_cast<double>(a[i]), 2);
  }
  return std::sqrt(difference / (length + 1e-30));
}

// One and the same network, in one piece and in tiles.
struct Both {
  Both(const Chain& chain, int width, int height, std::vector<std::size_t> bands, std::size_t budget,
       Precision precision = Precision::full)
      : whole(chain, width, height, precision, bands),
        tiled(chain, width, height, precision, bands, budget) {}
  Evaluator whole;
  Evaluator tiled;
};

class Tiled : public testing::Test {
 protected:
  Tiled() { bands.push_back(0), bands.push_back(1), bands.push_back(2); }
  Chain chain = smallChain();
  std::vector<std::size_t> bands;
  // Room for about a quarter of the picture.
  std::size_t budget = Evaluator::memoryFor(chain, 80, 64, Precision::full);
  Both both{chain, 128, 96, {0, 1, 2}, budget};
  Planes picture = planesOf(128, 96, 3);
};

// Every section's cores cover the picture once; every window reaches as far as the section sees.
void expectWholePicture(const TilePlan& plan, int width, int height) {
  for (std::size_t s = 0; s < plan.sections.size(); ++s) {
    const Tiling& tiling = plan.tilings[s];
    const int reach = plan.sections[s].reach;
    std::vector<int> covered(static_cast<std::size_t>(width * height));
    for (const Tile& tile : tiling.tiles) {
      for (int y = tile.core.top; y < tile.core.bottom; ++y) {
        for (int x = tile.core.left; x < tile.core.right; ++x)
          ++covered[static_cast<std::size_t>(y * width + x)];
      }
      EXPECT_GE(tile.x, 0);
      EXPECT_LE(tile.x + tiling.width, width);
      EXPECT_TRUE(tile.x == 0 || tile.core.left - tile.x >= reach);
      EXPECT_TRUE(tile.x + tiling.width == width || tile.x + tiling.width - tile.core.right >= reach);
      EXPECT_TRUE(tile.y == 0 || tile.core.top - tile.y >= reach);
    }
    EXPECT_TRUE(std::all_of(covered.begin(), covered.end(), [](int times) { return times == 1; }));
  }
}

TEST_F(Tiled, CutsIntoTilesThatCoverThePictureOnceAndFit) {
  const TilePlan plan = planTiles(chain, 128, 96, Precision::full, bands, budget);
  std::size_t most = 0;
  std::size_t tiles = 0;
  for (std::size_t s = 0; s < plan.sections.size(); ++s) {
    const Tiling& tiling = plan.tilings[s];
    most = std::max(most, plan.sections[s].memory(tiling.width, tiling.height, Precision::full));
    tiles += tiling.tiles.size();
  }
  EXPECT_LE(most, budget);
  EXPECT_GT(tiles, plan.sections.size());
  expectWholePicture(plan, 128, 96);
}

TEST(TilePlan, CutsTheChainWhereMarginsWouldCostMore) {
  const Chain chain = filigree();
  std::vector<std::size_t> bands;
  for (std::size_t b = 0; b < chain.bands.size(); ++b) bands.push_back(b);
  const TilePlan plan = planTiles(chain, 4160, 3136, Precision::full, bands, std::size_t{700} << 20);
  EXPECT_GT(plan.sections.size(), 1U);
  expectWholePicture(plan, 4160, 3136);
  double work = 0;
  double once = 0;
  std::size_t found = 0;
  for (std::size_t s = 0; s < plan.sections.size(); ++s) {
    const Tiling& t = plan.tilings[s];
    work += plan.sections[s].work() * t.width * t.height * static_cast<double>(t.tiles.size());
    once += plan.sections[s].work() * 4160 * 3136;
    found += plan.sections[s].bands.size();
  }
  EXPECT_LT(work / once, 1.12);
  EXPECT_EQ(found, bands.size());
  EXPECT_NEAR(once, sectionsOf(chain, bands, {}).front().work() * 4160 * 3136, 1e-6 * once);
  // With next to nothing for activations in between it is one chain again.
  const TilePlan small = planTiles(chain, 8320, 6272, Precision::full, bands, std::size_t{190} << 20);
  EXPECT_EQ(small.sections.size(), 1U);
}

TEST_F(Tiled, SaysWhenThereIsNoRoom) {
  try {
    planTiles(chain, 128, 96, Precision::full, bands, 1000);
    FAIL();
  } catch (const Error& e) {
    EXPECT_NE(std::string(e.what()).find("smallest tile"), std::string::npos) << e.what();
  }
  EXPECT_THROW(planTiles(chain, 122, 96, Precision::full, bands, budget), Error);
}

TEST_F(Tiled, StatisticsAndValuesAreTheSame) {
  show(both.whole, picture);
  show(both.tiled, picture);
  std::vector<int> places{0, 5, 77, 300, 500, 767};
  for (const std::size_t band : bands) {
    EXPECT_LT(apart(both.whole.gram(band), both.tiled.gram(band)), 1e-5);
    EXPECT_LT(apart(both.whole.mean(band), both.tiled.mean(band)), 1e-5);
    EXPECT_LT(apart(both.whole.activations(band), both.tiled.activations(band)), 1e-5);
    EXPECT_LT(apart(both.whole.gather(band, places), both.tiled.gather(band, places)), 1e-5);
    const BandShape shape = both.whole.shape(band);
    std::vector<float> directions(static_cast<std::size_t>(3 * shape.channels));
    for (std::size_t i = 0; i < directions.size(); ++i) directions[i] = std::sin(static_cast<float>(i));
    EXPECT_LT(apart(both.whole.project(band, directions), both.tiled.project(band, directions)), 1e-5);
    std::vector<float> weights(static_cast<std::size_t>(shape.positions()));
    for (std::size_t i = 0; i < weights.size(); ++i)
      weights[i] = i % 7 == 0 ? 0.0F : static_cast<float>(i % 5);
    const auto a = both.whole.weightedMoments(band, weights);
    const auto b = both.tiled.weightedMoments(band, weights);
    EXPECT_LT(apart(a.gram, b.gram), 1e-5);
    EXPECT_LT(apart(a.mean, b.mean), 1e-5);
  }
}

std::vector<float> unevenWeights(int positions) {
  std::vector<float> weights(positions);
  for (int i = 0; i < positions; ++i) weights[i] = static_cast<float>(i % 7) / 2;
  return weights;
}

TEST_F(Tiled, DistancesToWhatWasKeptAreTheSamePassAfterPass) {
  show(both.whole, picture);
  show(both.tiled, picture);
  const KeptActivation whole = both.whole.keep(1);
  const KeptActivation tiled = both.tiled.keep(1);
  EXPECT_EQ(both.tiled.squaredDistance(1, tiled), 0);
  KeptActivation weightedWhole = whole;
  KeptActivation weightedTiled = tiled;
  weightedWhole.weights = weightedTiled.weights = unevenWeights(both.whole.shape(1).positions());
  for (const unsigned seed : {5U, 6U}) {
    const Planes other = planesOf(128, 96, seed);
    show(both.whole, other);
    show(both.tiled, other);
    const double wanted = both.whole.squaredDistance(1, whole);
    EXPECT_NEAR(both.tiled.squaredDistance(1, tiled), wanted, 1e-4 * wanted);
    const double weighted = both.whole.squaredDistance(1, weightedWhole);
    EXPECT_GT(std::abs(weighted - wanted), 0.01 * wanted);
    EXPECT_NEAR(both.tiled.squaredDistance(1, weightedTiled), weighted, 1e-4 * weighted);
    // Statistics asked before are of this pass too.
    EXPECT_LT(apart(both.whole.gram(2), both.tiled.gram(2)), 1e-5);
  }
}

// Everything that can be filled in, at once.
void fillAll(Evaluator& evaluator, const KeptActivation& kept, std::size_t band, BandGradient& sink) {
  const BandShape shape = evaluator.shape(band);
  const auto channels = static_cast<std::size_t>(shape.channels);
  const auto positions = static_cast<std::size_t>(shape.positions());
  std::vector<float> matrix(channels * channels);
  for (std::size_t i = 0; i < matrix.size(); ++i) matrix[i] = 0.01F * std::sin(static_cast<float>(i * 3));
  const std::vector<float> centre(channels, 0.3F);
  const std::vector<float> offset(channels, 0.02F);
  sink.addLinear(matrix, centre, offset);
  std::vector<float> weights(positions);
  for (std::size_t i = 0; i < positions; ++i) weights[i] = static_cast<float>(i % 3);
  sink.addLinear(matrix, centre, offset, weights);
  std::vector<int> places;
  for (std::size_t p = 3; p < positions; p += 11) places.push_back(static_cast<int>(p));
  sink.addAt(places, std::vector<float>(places.size() * channels, 0.05F));
  std::vector<float> directions(2 * channels, 0.1F);
  std::vector<float> values(2 * positions);
  for (std::size_t i = 0; i < values.size(); ++i) values[i] = std::cos(static_cast<float>(i));
  sink.addProjected(directions, values);
  if (band != 1) return;
  sink.addDifference(kept, 0.03F);
  KeptActivation weighted = kept;
  weighted.weights = unevenWeights(shape.positions());
  sink.addDifference(weighted, 0.02F);
}

Planes gradientOf(Evaluator& evaluator, const Planes& picture, const Planes& before) {
  show(evaluator, before);
  const KeptActivation kept = evaluator.keep(1);
  show(evaluator, picture);
  Planes gradient(picture.width, picture.height);
  evaluator.backward([&](std::size_t band, BandGradient& sink) { fillAll(evaluator, kept, band, sink); },
                     gradient.plane[0], gradient.plane[1], gradient.plane[2]);
  return gradient;
}

TEST_F(Tiled, GradientsAgreeWithin1e4OfTheirNorm) {
  const Planes before = planesOf(128, 96, 8);
  const Planes whole = gradientOf(both.whole, picture, before);
  const Planes tiled = gradientOf(both.tiled, picture, before);
  for (std::size_t c = 0; c < 3; ++c) EXPECT_LT(apart(whole.plane[c], tiled.plane[c]), 1e-4);
  // The way back uses up what stood between sections; later questions are answered all the same.
  EXPECT_LT(apart(both.whole.activations(2), both.tiled.activations(2)), 1e-5);
}

TEST(TiledByMaximum, GradientsAgreeToo) {
  const Chain chain = smallChain(Pooling::maximum);
  Both both(chain, 128, 96, {0, 1, 2}, Evaluator::memoryFor(chain, 80, 64, Precision::full));
  const Planes before = planesOf(128, 96, 8);
  const Planes picture = planesOf(128, 96, 3);
  const Planes whole = gradientOf(both.whole, picture, before);
  const Planes tiled = gradientOf(both.tiled, picture, before);
  for (std::size_t c = 0; c < 3; ++c) EXPECT_LT(apart(whole.plane[c], tiled.plane[c]), 1e-4);
}

TEST(TiledFiligree, GradientsOfTheShippedNetworkAgreeToo) {
  const Chain chain = filigree();
  std::vector<std::size_t> bands;
  for (std::size_t b = 0; b < chain.bands.size(); ++b) bands.push_back(b);
  const std::size_t budget = Evaluator::memoryFor(chain, 192, 160, Precision::full);
  Both both{chain, 448, 256, bands, budget};
  EXPECT_GT(planTiles(chain, 448, 256, Precision::full, bands, budget).sections.size(), 2U);
  // On noise many activations lie near zero: any other rounding would show.
  for (const unsigned seed : {3U, 4U, 7U}) {
    const Planes picture = planesOf(448, 256, seed);
    const Planes before = planesOf(448, 256, 8);
    const Planes whole = gradientOf(both.whole, picture, before);
    const Planes tiled = gradientOf(both.tiled, picture, before);
    for (std::size_t c = 0; c < 3; ++c) EXPECT_LT(apart(whole.plane[c], tiled.plane[c]), 1e-5);
  }
}

}  // namespace
}  // namespace jugendstil
