// SPDX-License-Identifier: Apache-2.0
#include "paint/frame.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <random>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

void fill(Image& image, int from, const std::array<float, 3>& colour) {
  for (int y = from; y < image.height - from; ++y) {
    for (int x = from; x < image.width - from; ++x)
      std::copy(colour.begin(), colour.end(), &image.at(x, y, 0));
  }
}

void put(Image& image, const Image& picture, int left, int top) {
  for (int y = 0; y < picture.height; ++y)
    std::copy_n(picture.row(y), 3 * picture.width, &image.at(left, top + y, 0));
}

TEST(Trim, CutsWhatIsAskedAndFindsAnEvenFrame) {
  Image framed(100, 80, 3, 0.9F);
  const Image picture = sample(86, 70);
  put(framed, picture, 6, 4);
  const Image found = trimmed(framed, -1);
  EXPECT_EQ(found.width, 86);
  EXPECT_EQ(found.height, 70);
  EXPECT_EQ(trimmed(framed, 0.1).width, 80);
  EXPECT_EQ(trimmed(framed, 0).width, 100);
  EXPECT_EQ(trimmed(picture, -1).width, 86);
}

// A dark band, a thin line, the band again, a light line; and specks of ink all over.
TEST(Frame, MayHaveBandsLinesAndGrain) {
  Image print(200, 260, 3);
  fill(print, 0, {0.1F, 0.3F, 0.4F});
  fill(print, 6, {0.2F, 0.1F, 0.1F});
  fill(print, 9, {0.1F, 0.3F, 0.4F});
  fill(print, 15, {0.95F, 0.9F, 0.8F});
  put(print, sample(166, 226), 17, 17);
  std::mt19937 random(3);
  const auto any = [&](int below) { return static_cast<int>(random() % static_cast<unsigned>(below)); };
  for (int i = 0; i < 3000; ++i) print.at(any(200), any(260), any(3)) += 0.2F;
  const Frame frame = frameOf(print);
  EXPECT_EQ(frame.left, 17);
  EXPECT_EQ(frame.right, 17);
  EXPECT_EQ(frame.top, 17);
  EXPECT_EQ(frame.bottom, 17);
}

// Dark stones of many shades, with joints between them.
TEST(Frame, MayBeLaidOfStones) {
  Image mosaic(160, 160, 3, 0.25F);
  std::mt19937 random(5);
  for (int y = 0; y < 160; y += 8) {
    for (int x = 0; x < 160; x += 8) {
      const float shade = 0.03F * static_cast<float>(random() % 5);
      for (int j = 1; j < 8; ++j) {
        for (int i = 1; i < 8; ++i) {
          mosaic.at(x + i, y + j, 0) = 0.05F + shade;
          mosaic.at(x + i, y + j, 1) = 0.08F + shade;
          mosaic.at(x + i, y + j, 2) = 0.3F + shade;
        }
      }
    }
  }
  put(mosaic, sample(128, 128), 16, 16);
  EXPECT_EQ(frameOf(mosaic).left, 16);
  EXPECT_EQ(frameOf(mosaic).bottom, 16);
}

TEST(Frame, SkiesGroundsAndBarsAreNone) {
  Image sky = sample(120, 100);
  for (int y = 0; y < 40; ++y) std::fill_n(&sky.at(0, y, 0), 3 * 120, 0.7F);
  EXPECT_FALSE(frameOf(sky).found());
  // Above and below, as films have them.
  Image bars(160, 120, 3);
  put(bars, sample(160, 100), 0, 10);
  EXPECT_FALSE(frameOf(bars).found());
  // A small thing on a wide ground, and nothing at all.
  Image ground(160, 120, 3, 0.9F);
  put(ground, sample(30, 30), 65, 45);
  EXPECT_FALSE(frameOf(ground).found());
  EXPECT_FALSE(frameOf(Image(64, 64, 3, 0.5F)).found());
  EXPECT_FALSE(frameOf(sample(120, 90)).found());
}

}  // namespace
}  // namespace jugendstil
