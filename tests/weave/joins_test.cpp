// SPDX-License-Identifier: Apache-2.0
#include "weave/joins.h"

#include <gtest/gtest.h>

#include "base/parallel.h"
#include "base/stop.h"
#include "weave/cloth.h"
#include "weave/repeats.h"

namespace jugendstil {
namespace {

using testing_support::cloth;
const auto kGoOn = [](double) {};

// One swatch's pixels in their order, from this one on.
void copyInto(Woven& piece, const Atlas& atlas, int left, int right, int fromX, int fromY) {
  for (int y = 0; y < piece.height; ++y) {
    for (int x = left; x < right; ++x)
      piece.spots[cellAt(x, y, piece.width)] = atlas.spot(kWindow + fromX + x - left, kWindow + fromY + y);
  }
}

double stepsAcross(const Woven& piece, const Atlas& atlas) {
  double sum = 0;
  for (int y = 0; y < piece.height; ++y) {
    for (int x = 0; x + 1 < piece.width; ++x) {
      if (piece.at(x, y) + 1 == piece.at(x + 1, y)) continue;
      const float d = atlas.features[std::size_t{piece.at(x, y)} * kFeatures] -
                      atlas.features[std::size_t{piece.at(x + 1, y)} * kFeatures];
      sum += d * d;
    }
  }
  return sum;
}

TEST(Mender, MakesStepsAcrossJoinsSmaller) {
  const Atlas atlas = testing_support::atlasOf(cloth(80, 60));
  const std::vector<Spot> alike = alikeOf(atlas);
  Woven piece(60, 50, {});
  copyInto(piece, atlas, 0, 30, 2, 3);
  copyInto(piece, atlas, 30, 60, 45, 6);
  const double before = stepsAcross(piece, atlas);
  Mender mender(piece, atlas, alike);
  mender.mend(3, kGoOn);
  EXPECT_EQ(stepsAcross(piece, atlas), before) << "nothing was touched";
  mender.touchAll();
  mender.mend(3, kGoOn);
  EXPECT_LT(stepsAcross(piece, atlas), 0.7 * before);
  // Away from joins nothing changes.
  EXPECT_EQ(piece.at(5, 20), atlas.spot(kWindow + 7, kWindow + 23));
}

TEST(Mender, IsTheSameForAnyNumberOfThreads) {
  const Atlas atlas = testing_support::atlasOf(cloth(80, 60));
  const std::vector<Spot> alike = alikeOf(atlas);
  std::vector<std::vector<Spot>> found;
  for (const int threads : {1, 3}) {
    setThreads(threads);
    Woven piece(60, 50, {true, false});
    copyInto(piece, atlas, 0, 30, 2, 3);
    copyInto(piece, atlas, 30, 60, 45, 6);
    Mender mender(piece, atlas, alike);
    mender.touchAll();
    mender.mend(2, kGoOn);
    found.push_back(piece.spots);
  }
  setThreads(0);
  EXPECT_EQ(found[0], found[1]);
}

TEST(Mender, LeavesWhatIsGivenAndStopsWhereAsked) {
  const Atlas atlas = testing_support::atlasOf(cloth(80, 60));
  const std::vector<Spot> alike = alikeOf(atlas);
  Woven piece(60, 50, {});
  copyInto(piece, atlas, 0, 30, 2, 3);
  copyInto(piece, atlas, 30, 60, 45, 6);
  piece.given.assign(piece.spots.size(), 1);
  const std::vector<Spot> before = piece.spots;
  Mender mender(piece, atlas, alike);
  mender.touchAll();
  mender.mend(2, kGoOn);
  EXPECT_EQ(piece.spots, before);
  EXPECT_THROW(mender.mend(1, [](double) { throw Stopped(); }), Stopped);
}

TEST(RepeatedSquares, AreFoundWithinTheirReachOnly) {
  const Atlas atlas = testing_support::atlasOf(cloth(180, 60));
  Woven piece(120, 40, {});
  copyInto(piece, atlas, 0, 70, 0, 0);
  copyInto(piece, atlas, 70, 120, 120, 10);
  // Nine pixels square of the left side again, 50 pixels to the right.
  for (int y = 10; y < 19; ++y) {
    for (int x = 80; x < 89; ++x) piece.spots[cellAt(x, y, 120)] = atlas.spot(kWindow + x - 50, kWindow + y);
  }
  EXPECT_TRUE(repeatedSquares(piece, atlas, 9, 40).empty());
  EXPECT_TRUE(repeatedSquares(piece, atlas, 10, 80).empty());
  const auto found = repeatedSquares(piece, atlas, 9, 80);
  ASSERT_EQ(found.size(), 1U);
  EXPECT_TRUE(found[0].y == 10 && (found[0].x == 80 || found[0].x == 30));
  // Overlapping ones are listed once.
  EXPECT_EQ(repeatedSquares(piece, atlas, 6, 80).size(), 1U);
}

TEST(RepeatedSquares, AreFoundAroundARepeatingEdge) {
  const Atlas atlas = testing_support::atlasOf(cloth(80, 60));
  for (const bool across : {false, true}) {
    Woven piece(80, 30, {across, false});
    copyInto(piece, atlas, 0, 12, 0, 0);
    copyInto(piece, atlas, 12, 68, 15, 25);
    copyInto(piece, atlas, 68, 80, 0, 0);
    EXPECT_EQ(repeatedSquares(piece, atlas, 10, 30).empty(), !across);
  }
}

}  // namespace
}  // namespace jugendstil
