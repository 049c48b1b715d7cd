// SPDX-License-Identifier: Apache-2.0
#include "image/contours.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

namespace jugendstil {
namespace {

// Dark to the left of the middle, light to the right, with grain.
Image halves(int width, int height, float grain) {
  std::mt19937 random(3);
  std::normal_distribution<float> normal;
  Image photo(width, height, 3);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const float value = (x < width / 2 ? 0.3F : 0.7F) + grain * normal(random);
      for (int c = 0; c < 3; ++c) photo.at(x, y, c) = value;
    }
  }
  return photo;
}

float mostBetween(const Image& lines, int left, int right) {
  float most = 0;
  for (int y = 8; y + 8 < lines.height; ++y) {
    for (int x = left; x < right; ++x) most = std::max(most, lines.at(x, y, 0));
  }
  return most;
}

TEST(Contours, ALineRunsAllAlongWhereAreasPart) {
  const Image lines = contoursOf(halves(160, 120, 0));
  for (int y = 8; y < 112; ++y) {
    float most = 0;
    for (int x = 74; x < 86; ++x) most = std::max(most, lines.at(x, y, 0));
    EXPECT_GT(most, 0.7F) << y;
  }
  EXPECT_LT(mostBetween(lines, 0, 70), 0.01F);
  EXPECT_LT(mostBetween(lines, 90, 160), 0.01F);
}

TEST(Contours, GrainIsNoLine) {
  const Image lines = contoursOf(halves(160, 120, 0.012F));
  EXPECT_LT(mostBetween(lines, 0, 70), 0.5F);
  double mean = 0;
  for (int y = 0; y < 120; ++y) {
    for (int x = 0; x < 70; ++x) mean += lines.at(x, y, 0) / (70 * 120);
  }
  EXPECT_LT(mean, 0.02);
}

TEST(Contours, DarkLinesAreLinesThemselves) {
  Image photo(160, 120, 3, 0.8F);
  for (int y = 0; y < 120; ++y) {
    for (int x = 79; x < 82; ++x) {
      for (int c = 0; c < 3; ++c) photo.at(x, y, c) = 0.2F;
    }
  }
  EXPECT_GT(contoursOf(photo).at(80, 60, 0), 0.8F);
}

TEST(Contours, AreAsWideBesideThePictureInEverySize) {
  const auto part = [](int width) {
    const Image lines = contoursOf(halves(width, width / 8, 0));
    double sum = 0;
    for (int x = 0; x < width; ++x) sum += lines.at(x, width / 16, 0);
    return sum / width;
  };
  EXPECT_NEAR(part(3200) / part(1600), 1, 0.15);
}

TEST(Contours, InkIsWhatIsDarkAndThere) {
  Image drawing(3, 1, 4, 1.0F);
  for (int c = 0; c < 3; ++c) drawing.at(1, 0, c) = drawing.at(2, 0, c) = 0;
  drawing.at(2, 0, 3) = 0;  // black, and transparent
  const Image ink = inkOfDrawing(drawing);
  EXPECT_NEAR(ink.at(0, 0, 0), 0, 1e-5F);
  EXPECT_NEAR(ink.at(1, 0, 0), 1, 1e-5F);
  EXPECT_NEAR(ink.at(2, 0, 0), 0, 1e-5F);
}

}  // namespace
}  // namespace jugendstil
