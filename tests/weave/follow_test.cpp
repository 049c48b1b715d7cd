// SPDX-License-Identifier: Apache-2.0
#include "weave/follow.h"

#include <gtest/gtest.h>

#include "base/parallel.h"
#include "weave/cloth.h"
#include "weave/levels.h"

namespace jugendstil {
namespace {

using testing_support::cloth;

// A swatch that is dark on its left and light on its right, its own colours about their mean as its map.
WeaveLevel levelOf(int width, int height) {
  WeaveLevel level{{}, width, height, Image(width, height), {}};
  Image swatch = cloth(64, 64);
  for (int y = 0; y < 64; ++y) {
    for (int x = 0; x < 64; ++x) {
      for (int c = 0; c < 3; ++c) swatch.at(x, y, c) = (x < 32 ? 0.1F : 0.7F) + 0.2F * swatch.at(x, y, c);
    }
  }
  Image map = swatch;
  for (float& v : map.pixels) v = 2 * (v - 0.5F);
  level.swatches.push_back({std::move(swatch), std::move(map), {}});
  return level;
}

float missedBy(const Woven& piece, const Atlas& atlas) {
  float sum = 0;
  for (std::size_t i = 0; i < piece.spots.size(); ++i) {
    for (std::size_t c = 0; c < kFeatures; ++c) {
      const float d = piece.wish[i * kFeatures + c] - atlas.map[std::size_t{piece.spots[i]} * kFeatures + c];
      sum += d * d;
    }
  }
  return sum / static_cast<float>(piece.spots.size());
}

// All of it from the swatch's first places, with a layout that wants the light on the left.
Woven wrongWay(const WeaveLevel& level, const Atlas& atlas) {
  Woven piece = unwoven(level, atlas, {}, 6);
  for (int y = 0; y < piece.height; ++y) {
    for (int x = 0; x < piece.width; ++x)
      piece.spots[cellAt(x, y, piece.width)] = atlas.spot(kWindow + x, kWindow + y);
  }
  return piece;
}

TEST(Follower, LaysBlocksWhereTheLayoutIsMissed) {
  WeaveLevel level = levelOf(64, 48);
  for (int y = 0; y < 48; ++y) {
    for (int x = 0; x < 64; ++x) {
      for (int c = 0; c < 3; ++c) level.layout.at(x, y, c) = x < 32 ? 0.6F : -0.6F;
    }
  }
  const Atlas atlas = atlasOf(level.swatches, kGrownTone);
  Woven piece = wrongWay(level, atlas);
  const float before = missedBy(piece, atlas);
  Follower follower(piece, atlas, 8, 1);
  double told = 0;
  EXPECT_GT(follower.round(0, [&](double done) { told = done; }), 20);
  EXPECT_EQ(told, 1);
  follower.round(1, [](double) {});
  EXPECT_LT(missedBy(piece, atlas), 0.1F * before);
}

TEST(Follower, LeavesAloneWhatFollowsTheLayout) {
  WeaveLevel level = levelOf(64, 48);
  level.layout = crop(level.swatches.front().map, 0, 0, 64, 48);
  const Atlas atlas = atlasOf(level.swatches, kGrownTone);
  Woven piece = wrongWay(level, atlas);
  Follower follower(piece, atlas, 8, 1);
  EXPECT_EQ(follower.round(0, [](double) {}), 0);
}

TEST(Follower, LaysLessWhereLessIsDrawn) {
  WeaveLevel level = levelOf(64, 48);
  for (float& v : level.layout.pixels) v = 0.6F;
  const Atlas atlas = atlasOf(level.swatches, kGrownTone);
  Woven piece = wrongWay(level, atlas);
  piece.drawn.assign(piece.spots.size(), 0.01F);
  Follower follower(piece, atlas, 8, 1);
  EXPECT_EQ(follower.round(0, [](double) {}), 0);
}

TEST(Follower, IsTheSameForAnyNumberOfThreads) {
  WeaveLevel level = levelOf(64, 48);
  for (float& v : level.layout.pixels) v = 0.4F;
  const Atlas atlas = atlasOf(level.swatches, kGrownTone);
  std::vector<std::vector<Spot>> pieces;
  for (const int threads : {1, 3}) {
    setThreads(threads);
    Woven piece = wrongWay(level, atlas);
    Follower(piece, atlas, 8, 1).round(0, [](double) {});
    pieces.push_back(piece.spots);
  }
  setThreads(0);
  EXPECT_EQ(pieces[0], pieces[1]);
}

}  // namespace
}  // namespace jugendstil
