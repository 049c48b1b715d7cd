// SPDX-License-Identifier: Apache-2.0
#include "weave/guides.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "weave/cloth.h"

namespace jugendstil {
namespace {

// Even on the left, checked on the right.
Image halfChecked(int width, int height, float contrast) {
  Image out(width, height, 3, 0.2F);
  for (int y = 0; y < height; ++y) {
    for (int x = width / 2; x < width; ++x) {
      if ((x / 2 + y / 2) % 2 == 0) std::fill_n(&out.at(x, y, 0), 3, 0.2F + contrast);
    }
  }
  return out;
}

TEST(Guides, AskForCalmWhereTheDrawingIsCalm) {
  WeaveLevel level{{}, 40, 30, halfChecked(40, 30, 0.1F), {}};
  const Image reference = halfChecked(48, 32, 0.8F);
  level.swatches.push_back({reference, reference, {}});
  makeGuides(level);
  const Image& map = level.swatches.front().map;
  ASSERT_EQ(map.channels, 4);
  ASSERT_EQ(level.layout.channels, 4);
  // However faint the drawing: its drawn half asks for what the reference's drawn half has.
  EXPECT_NEAR(level.layout.at(5, 15, 3), map.at(5, 15, 3), 1e-3);
  EXPECT_NEAR(level.layout.at(30, 15, 3), map.at(36, 15, 3), 0.1);
  EXPECT_GT(map.at(36, 15, 3), map.at(5, 15, 3) + 0.5F);
  // Colours are means of their surroundings.
  EXPECT_NEAR(map.at(36, 15, 0), 0.6, 0.1);
}

TEST(Guides, TellWhereSomethingIsDrawn) {
  const std::vector<float> drawn = drawnIn(halfChecked(40, 30, 0.8F));
  EXPECT_FLOAT_EQ(drawn[cellAt(5, 15, 40)], kCalm);
  EXPECT_FLOAT_EQ(drawn[cellAt(30, 15, 40)], 1);
}

}  // namespace
}  // namespace jugendstil
