// SPDX-License-Identifier: Apache-2.0
#include "dive/move.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "motion/warp.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

// Waves of that many pixels' length along x.
Image waves(int width, int height, double length) {
  Image out(width, height, 3);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      for (int c = 0; c < 3; ++c)
        out.at(x, y, c) = static_cast<float>(0.5 + 0.25 * std::sin(2 * std::numbers::pi * x / length));
    }
  }
  return out;
}

// Away from what was mirrored at the edges.
double spread(const Image& picture, int margin) {
  double sum = 0;
  int count = 0;
  for (int y = 0; y < picture.height; ++y) {
    for (int x = margin; x < picture.width - margin; ++x) {
      sum += (picture.at(x, y, 0) - 0.5) * (picture.at(x, y, 0) - 0.5);
      ++count;
    }
  }
  return std::sqrt(sum / count);
}

TEST(DiveMove, StillnessChangesNoBit) {
  const Image picture = sample(40, 30);
  EXPECT_EQ(moved(picture, {}).pixels, picture.pixels);
}

TEST(DiveMove, WholePixelsAreExact) {
  const Image picture = sample(40, 30);
  Move move;
  move.shiftX = 3.0 / 40;
  move.shiftY = -2.0 / 30;
  const Image out = moved(picture, move);
  for (int y = 0; y < 28; ++y) {
    for (int x = 3; x < 40; ++x) {
      for (int c = 0; c < 3; ++c) ASSERT_NEAR(out.at(x, y, c), picture.at(x - 3, y + 2, c), 1e-5);
    }
  }
}

TEST(DiveMove, HalfPixelsTakeNoDetailAwayOverManyMoves) {
  // Waves of 2.8 pixels, to and fro by half a pixel, forty times.
  const Image picture = waves(192, 24, 2.8);
  Image out = picture;
  for (int i = 0; i < 40; ++i) {
    Move move;
    move.shiftX = (i % 2 == 0 ? 0.5 : -0.5) / 192;
    out = moved(out, move);
  }
  EXPECT_NEAR(spread(out, 48) / spread(picture, 48), 1, 0.1);
}

TEST(DiveMove, ZoomKeepsItsCentreAndTurnsClockwise) {
  Image picture(61, 61, 1, 0.2F);
  picture.at(20, 30, 0) = 1;
  Move move;
  move.zoom = 2;
  move.centreX = 20.5 / 61;
  move.centreY = 30.5 / 61;
  const Image near = moved(picture, move);
  EXPECT_NEAR(near.at(20, 30, 0), 1, 1e-3);
  EXPECT_GT(near.at(21, 30, 0), 0.5);
  Move turn;
  turn.turn = 90;
  const Image turned = moved(picture, turn);  // what was left of the middle is above it
  EXPECT_NEAR(turned.at(30, 20, 0), 1, 1e-3);
}

TEST(DiveMove, GoingBackMakesNoFalseWaves) {
  // Waves of 2.2 pixels do not fit into a picture half as large.
  Move move;
  move.zoom = 0.5;
  EXPECT_LT(spread(moved(waves(256, 64, 2.2), move), 4), 0.02);
}

TEST(DiveMove, ItsMotionLeadsBack) {
  const Image picture = sample(80, 60);
  Move move;
  move.zoom = 1.1;
  move.turn = 5;
  move.shiftX = 0.02;
  const Motion motion = motionOf(move, {80, 60});
  const Image there = moved(picture, move);
  const Image along = warped(picture, motion.back);
  double trusted = 0;
  for (int y = 0; y < 60; ++y) {
    for (int x = 0; x < 80; ++x) {
      if (motion.trust.at(x, y, 0) < 1) continue;
      ++trusted;
      ASSERT_NEAR(there.at(x, y, 1), along.at(x, y, 1), 0.03) << x << "," << y;
    }
  }
  EXPECT_GT(trusted, 0.9 * 80 * 60);
}

}  // namespace
}  // namespace jugendstil
