// SPDX-License-Identifier: Apache-2.0
#include "paint/enlarge.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::distance;
using testing_support::strokes;

const auto kGoOn = [] {};

TEST(Edges, AreWhatASmallerPictureCannotHold) {
  Image photo(64, 48, 3);
  for (int y = 0; y < 48; ++y) {
    for (int x = 0; x < 64; ++x) {
      // A slope, a sharp edge in it at 40, and grain of a hundredth.
      const float value = 0.3F + 0.002F * static_cast<float>(x) + (x < 40 ? 0.0F : 0.4F) +
                          ((x * 31 + y * 17) % 7 < 3 ? 0.01F : -0.01F);
      for (int c = 0; c < 3; ++c) photo.at(x, y, c) = value;
    }
  }
  const Image edges = edgesBeyond(photo, {32, 24});
  EXPECT_LT(std::abs(edges.at(10, 20, 0)), 0.005);
  EXPECT_GT(edges.at(40, 20, 0) - edges.at(39, 20, 0), 0.08);
}

TEST(Enlarging, EachPartHasItsOwnBrushwork) {
  const PaintReference upright{strokes(90, 90, true), 1};
  const PaintReference lying{strokes(90, 90, false), 1};
  Image left(80, 60, 1);
  Image right(80, 60, 1);
  for (int y = 0; y < 60; ++y) {
    for (int x = 0; x < 80; ++x) (x < 40 ? left : right).at(x, y, 0) = 1;
  }
  std::vector<Region> regions(2);
  regions[0].basis.references = {upright};
  regions[0].weights = left;
  regions[1].basis.references = {lying};
  regions[1].weights = right;
  Image truth = strokes(80, 60, true);
  const Image other = strokes(80, 60, false);
  for (int y = 0; y < 60; ++y) {
    for (int x = 40; x < 80; ++x) {
      for (int c = 0; c < 3; ++c) truth.at(x, y, c) = other.at(x, y, c);
    }
  }
  const Image blank(80, 60, 3, 0.5F);
  const Image small = resample(truth, 40, 30);
  int asked = 0;
  // Strokes of a reference of 90 x 90 keep their size beside 80 x 60 at this one.
  const double stroke = 90 / std::sqrt(80.0 * 60.0);
  EnlargingState state;
  const Image out = enlargedPainting(small, {80, 60}, {regions, blank, Likeness{50}, stroke, 1}, 0, state,
                                     [&] { ++asked; });
  EXPECT_EQ(asked, kSearchPasses);
  const Image soft = resample(small, 80, 60);
  for (const int from : {0, 44}) {
    const auto half = [&](const Image& image) { return crop(image, from, 0, 36, 60); };
    EXPECT_LT(distance(half(out), half(truth)), 0.4 * distance(half(soft), half(truth))) << from;
  }
}

TEST(Enlarging, TheLowerTheLikenessTheMoreIsCovered) {
  std::vector<Region> regions(1);
  regions[0].basis.references.push_back({Image(64, 64, 3, 0.5F), 1});
  const Image blank(64, 64, 3, 0.5F);
  const auto tone = [&](double likeness) {
    EnlargingState state;
    return enlargedPainting(Image(32, 32, 3, 0.6F), {64, 64}, {regions, blank, Likeness{likeness}, 1, 1}, 0,
                            state, kGoOn)
        .at(32, 32, 0);
  };
  EXPECT_LT(tone(0), tone(50));
  EXPECT_LT(tone(50), tone(100));
  EXPECT_LT(tone(100), 0.595F);
  EXPECT_GT(tone(0), 0.499F);
  EXPECT_EQ(coveredAt(50, 2), coveredAt(50, 0) / 4);
}

TEST(Enlarging, WhatIsHeldIsCoveredLessThanWhatIsBesideIt) {
  std::vector<Region> regions(1);
  regions[0].basis.references.push_back({Image(64, 64, 3, 0.5F), 1});
  const Image blank(64, 64, 3, 0.5F);
  Image left(64, 64, 1);
  for (int y = 0; y < 64; ++y) std::fill_n(&left.at(0, y, 0), 32, 1.0F);
  const Likeness likeness = likenessWith(0, {{left, 100}}, {64, 64});
  EnlargingState state;
  const Image out =
      enlargedPainting(Image(32, 32, 3, 0.6F), {64, 64}, {regions, blank, likeness, 1, 1}, 0, state, kGoOn);
  EXPECT_GT(out.at(8, 32, 0), out.at(56, 32, 0) + 0.03F);
}

TEST(Enlarging, LikenessKeepsThePhotosEdges) {
  std::vector<Region> regions(1);
  regions[0].basis.references.push_back({Image(64, 64, 3, 0.5F), 1});
  Image drawing(64, 64, 3, 0.2F);
  for (int y = 0; y < 64; ++y) {
    for (int x = 32; x < 64; ++x) {
      for (int c = 0; c < 3; ++c) drawing.at(x, y, c) = 0.8F;
    }
  }
  const Image small = resample(drawing, 30, 30);
  const auto step = [&](double likeness) {
    EnlargingState state;
    const Image out =
        enlargedPainting(small, {64, 64}, {regions, drawing, Likeness{likeness}, 1, 1}, 0, state, kGoOn);
    return out.at(32, 30, 0) - out.at(31, 30, 0);
  };
  EXPECT_LT(step(0), step(50));
  EXPECT_LT(step(50), step(100));
}

}  // namespace
}  // namespace jugendstil
