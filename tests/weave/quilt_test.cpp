// SPDX-License-Identifier: Apache-2.0
#include "weave/quilt.h"

#include <gtest/gtest.h>

#include <set>

#include "base/error.h"
#include "weave/cloth.h"

namespace jugendstil {
namespace {

using testing_support::cloth;
constexpr QuiltSizes kSizes{14, 5, 64};

Woven quilted(const Atlas& atlas, int width, int height, Repeats repeats, std::uint64_t seed) {
  Woven piece(width, height, repeats);
  Quilter(piece, atlas, kSizes, seed).lay([](double) {});
  return piece;
}

double squaredStep(const Atlas& atlas, Spot a, Spot b) {
  double sum = 0;
  for (std::size_t c = 0; c < kFeatures; ++c) {
    const double d =
        atlas.features[std::size_t{a} * kFeatures + c] - atlas.features[std::size_t{b} * kFeatures + c];
    sum += d * d;
  }
  return sum;
}

TEST(Quilter, CoversAPieceWithSpotsOfTheSwatch) {
  const Atlas atlas = testing_support::atlasOf(cloth(64, 64));
  const Woven piece = quilted(atlas, 101, 67, {}, 1);
  for (const Spot spot : piece.spots) {
    ASSERT_LT(spot, atlas.open.size());
    EXPECT_EQ(atlas.open[spot], 1);
  }
}

TEST(Quilter, AnotherSeedIsAnotherPiece) {
  const Atlas atlas = testing_support::atlasOf(cloth(64, 64));
  EXPECT_EQ(quilted(atlas, 60, 60, {}, 1).spots, quilted(atlas, 60, 60, {}, 1).spots);
  EXPECT_NE(quilted(atlas, 60, 60, {}, 1).spots, quilted(atlas, 60, 60, {}, 2).spots);
}

// Across an edge that repeats, steps are hardly larger than within; across one that does not, they are those
// of places that have nothing to do with each other.
TEST(Quilter, EdgesThatRepeatMeet) {
  const Atlas atlas = testing_support::atlasOf(cloth(64, 64));
  const auto acrossEdge = [&](Repeats repeats) {
    const Woven piece = quilted(atlas, 72, 72, repeats, 1);
    double sum = 0;
    for (int y = 0; y < 72; ++y) sum += squaredStep(atlas, piece.at(71, y), piece.at(0, y)) / 72;
    return sum;
  };
  EXPECT_LT(acrossEdge({true, false}), 0.7 * acrossEdge({false, true}));
}

TEST(Quilter, FollowsALayout) {
  const Image swatch = cloth(64, 64);
  Image map(64, 64);
  for (int y = 0; y < 64; ++y) {
    for (int x = 32; x < 64; ++x) map.at(x, y, 0) = 1;
  }
  const Atlas atlas = atlasOf({{swatch, map, {}}}, kGrownTone);
  Woven piece(60, 60, {});
  piece.wish.assign(piece.spots.size() * kFeatures, 0.0F);
  piece.wishWeight = 10;
  for (int y = 0; y < 60; ++y) {
    for (int x = 0; x < 30; ++x) piece.wish[cellAt(x, y, 60) * kFeatures] = 1;
  }
  Quilter(piece, atlas, kSizes, 1).lay([](double) {});
  int right = 0;
  for (int y = 0; y < 60; ++y) {
    for (int x = 0; x < 60; ++x) right += (atlas.pixel(piece.at(x, y)).x >= 32) == (x < 30) ? 1 : 0;
  }
  EXPECT_GT(right, 0.85 * 3600);
}

TEST(Quilter, LeavesWhatIsGiven) {
  const Atlas atlas = testing_support::atlasOf(cloth(64, 64));
  Woven piece(50, 50, {});
  piece.given.assign(piece.spots.size(), 0);
  for (int x = 0; x < 50; ++x) {
    piece.given[x] = 1;
    piece.spots[x] = atlas.spot(kWindow + x, kWindow + 9);
  }
  Quilter(piece, atlas, kSizes, 1).lay([](double) {});
  for (int x = 0; x < 50; ++x) EXPECT_EQ(piece.at(x, 0), atlas.spot(kWindow + x, kWindow + 9));
  EXPECT_EQ(std::count(piece.spots.begin(), piece.spots.end(), kUnwoven), 0);
}

TEST(Quilter, ABlockLaidOverComesFromElsewhere) {
  const Atlas atlas = testing_support::atlasOf(cloth(64, 64));
  Woven piece = quilted(atlas, 60, 60, {}, 1);
  const Spot before = piece.at(27, 27);
  Quilter(piece, atlas, kSizes, 1).layOverWithin(20, 20, 14);
  EXPECT_NE(piece.at(27, 27), before);
}

TEST(Quilter, RefusesASwatchThatIsSmallerThanABlock) {
  const Atlas atlas = testing_support::atlasOf(cloth(12, 40));
  Woven piece(60, 60, {});
  EXPECT_THROW(Quilter(piece, atlas, kSizes, 1), Error);
}

}  // namespace
}  // namespace jugendstil
