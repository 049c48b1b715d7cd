// SPDX-License-Identifier: Apache-2.0
#include "image/edges.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace jugendstil {
namespace {

// A disc on a ground, its edge that many pixels wide.
Image disc(float width, float dark = 0.2F, float light = 0.8F) {
  Image out(96, 80, 3);
  for (int y = 0; y < out.height; ++y) {
    for (int x = 0; x < out.width; ++x) {
      const float from = std::hypot(static_cast<float>(x) - 48.3F, static_cast<float>(y) - 39.6F) - 25;
      const float part = std::clamp(0.5F - from / width, 0.0F, 1.0F);
      for (int c = 0; c < 3; ++c) out.at(x, y, c) = dark + part * (light - dark) * (c == 2 ? 0.8F : 1.0F);
    }
  }
  return out;
}

TEST(Edges, HaveTheWidthThatTheyWereDrawnWith) {
  EXPECT_NEAR(edgeWidth(disc(4)), 4, 0.5);
  EXPECT_NEAR(edgeWidth(disc(6)), 6, 0.6);
  EXPECT_LT(edgeWidth(disc(1)), 2.2);
  // Faint ones and none.
  EXPECT_EQ(edgeWidth(disc(4, 0.5F, 0.6F)), 0);
  EXPECT_EQ(edgeWidth(Image(64, 64, 3, 0.3F)), 0);
}

TEST(Edges, AreDrawnTogetherWithoutOvershooting) {
  Image picture = disc(5);
  double before = edgeWidth(picture);
  for (int step = 0; step < 3; ++step) {
    steepenEdges(picture, 0.4F);
    const double after = edgeWidth(picture);
    EXPECT_LT(after, before) << step;
    before = after;
  }
  EXPECT_LT(before, 4);
  const auto [least, most] = std::minmax_element(picture.pixels.begin(), picture.pixels.end());
  EXPECT_GE(*least, 0.2F - 1e-5F);
  EXPECT_LE(*most, 0.8F + 1e-5F);
  // The edge stays where it is: half-way between the two.
  EXPECT_GT(picture.at(48, 39 - 23, 0), 0.6F);
  EXPECT_LT(picture.at(48, 39 - 28, 0), 0.4F);
}

TEST(Edges, FaintGrainIsLeftAlone) {
  Image grain(64, 64, 3);
  for (int y = 0; y < 64; ++y) {
    for (int x = 0; x < 64; ++x) {
      for (int c = 0; c < 3; ++c)
        grain.at(x, y, c) =
            0.5F + 0.01F * std::sin(0.9F * static_cast<float>(x) + 0.7F * static_cast<float>(y));
    }
  }
  Image after = grain;
  steepenEdges(after, 0.4F);
  for (std::size_t i = 0; i < grain.pixels.size(); ++i) EXPECT_NEAR(after.pixels[i], grain.pixels[i], 3e-4);
}

}  // namespace
}  // namespace jugendstil
