// SPDX-License-Identifier: Apache-2.0
#include "paint/quiet.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "paint/enlarge.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::strokes;

// A ramp on the left, stripes of three pixels on the right.
Image halfQuiet(int width, int height) {
  Image picture(width, height, 3);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const float value = x < width / 2    ? 0.3F + 0.003F * static_cast<float>(y)
                          : x / 3 % 2 == 0 ? 0.2F
                                           : 0.7F;
      for (int c = 0; c < 3; ++c) picture.at(x, y, c) = value;
    }
  }
  return picture;
}

TEST(Quiet, ARampIsAndStripesAreNot) {
  const Image quiet = quietPlaces(halfQuiet(120, 80), Likeness{50});
  EXPECT_GT(quiet.at(15, 40, 0), 0.95F);
  EXPECT_LT(quiet.at(90, 40, 0), 0.05F);
  // Beside the stripes, too: their edge is to be kept.
  EXPECT_LT(quiet.at(58, 40, 0), 0.3F);
}

TEST(Quiet, WhatIsHeldIsLessQuiet) {
  const Image ramp = crop(halfQuiet(240, 80), 0, 0, 120, 80);
  const auto at = [&](const Likeness& likeness, int x) { return quietPlaces(ramp, likeness).at(x, 40, 0); };
  EXPECT_GT(at(Likeness{20}, 60), 0.95F);
  EXPECT_EQ(at(Likeness{100}, 60), 0);
  EXPECT_LT(at(Likeness{80}, 60), 0.5F);
  Image left(120, 80, 1);
  for (int y = 0; y < 80; ++y) std::fill_n(&left.at(0, y, 0), 60, 1.0F);
  const Likeness held = likenessWith(50, {{left, 90}}, {120, 80});
  EXPECT_LT(at(held, 20), 0.3F);
  EXPECT_GT(at(held, 100), 0.95F);
}

TEST(Quiet, PlacesGoFromTheirTonesUpInStages) {
  const std::vector<Size> stages = quietStages({512, 384}, {213, 160}, 1);
  ASSERT_EQ(stages.size(), 3U);
  EXPECT_EQ(stages.front().width, 85);
  EXPECT_EQ(stages.front().height, 64);
  EXPECT_EQ(stages.back().width, 213);
  for (std::size_t i = 1; i < stages.size(); ++i) EXPECT_LT(stages[i].width, 2.05 * stages[i - 1].width);
  // Where an example of the references' strokes would have too few pixels there are none.
  EXPECT_TRUE(quietStages({512, 384}, {213, 160}, 0.2).empty());
  EXPECT_TRUE(quietStages({80, 60}, {40, 30}, 1).empty());
}

TEST(Quiet, CoversNoLessThanElsewhere) {
  const Image quiet(2, 1, 1, 1.0F);
  EXPECT_EQ(coveredInQuiet(Image(1, 1, 1, 0.2F), quiet).at(1, 0, 0), kQuietCovered);
  EXPECT_EQ(coveredInQuiet(Image(1, 1, 1, 0.9F), quiet).at(1, 0, 0), 0.9F);
  EXPECT_EQ(coveredInQuiet(Image(1, 1, 1, 0.2F), Image(2, 1, 1)).at(0, 0, 0), 0.2F);
}

// A sky with one bird, above a field of cuts: both have detail, and only the bird's is rare.
TEST(Quiet, WhatAnExampleShowsOnceIsAvoided) {
  Image sky(120, 120, 3, 0.8F);
  for (int y = 0; y < 120; ++y) {
    for (int x = 0; x < 120; ++x) {
      const bool bird = x >= 60 && x < 62 && y >= 30 && y < 32;
      const bool cut = y >= 60 && (x + y) % 6 < 3;
      for (int c = 0; c < 3; ++c) sky.at(x, y, c) = y < 60 ? bird ? 0.3F : 0.8F : cut ? 0.1F : 0.5F;
    }
  }
  std::vector<BrushExample> examples{brushExample(sky, 6)};
  avoidRareDetail(examples);
  const std::vector<float>& unwelcome = examples[0].unwelcome;
  EXPECT_GT(unwelcome[cellAt(61, 31, 120)], 0.05F);
  EXPECT_EQ(unwelcome[cellAt(20, 30, 120)], 0);
  EXPECT_EQ(unwelcome[cellAt(60, 90, 120)], 0);
}

// A place fits worse where it is unwelcome, and only then.
TEST(Quiet, UnwelcomePlacesAreNotFound) {
  const Image blank(60, 60, 3, 0.5F);
  BrushExample example{blank, blank};
  for (int y = 0; y < 60; ++y) {
    for (int x = 0; x < 60; ++x) {
      example.unwelcome.push_back(x < 30 ? 0.2F : 0.0F);
      if (x < 30) std::fill_n(&example.fine.at(x, y, 0), 3, 0.9F);
    }
  }
  const auto brightest = [&](const BrushExample& from) {
    const Brush brush({from});
    const Image plain(40, 40, 3, 0.5F);
    const Image out = brush.laidInto(plain, brush.find(plain, 1, [] {}), Image(1, 1, 1, 0.7F));
    return *std::max_element(out.pixels.begin(), out.pixels.end());
  };
  EXPECT_LT(brightest(example), 0.55F);
  example.unwelcome.clear();
  EXPECT_GT(brightest(example), 0.8F);
}

// Energy of differences along rows over that along columns.
double uprightness(const Image& picture) {
  double along = 0;
  double across = 0;
  for (int y = 4; y + 5 < picture.height; ++y) {
    for (int x = 4; x + 5 < picture.width; ++x) {
      along += std::pow(static_cast<double>(picture.at(x + 1, y, 0) - picture.at(x, y, 0)), 2);
      across += std::pow(static_cast<double>(picture.at(x, y + 1, 0) - picture.at(x, y, 0)), 2);
    }
  }
  return along / across;
}

// What the network hatched upright, after a reference whose strokes lie.
TEST(Quiet, OnlyTonesAreLeftOfAPainting) {
  const Size size{192, 144};
  Image hatched(size.width, size.height, 3);
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x) {
      for (int c = 0; c < 3; ++c) hatched.at(x, y, c) = x / 4 % 2 == 0 ? 0.37F : 0.57F;
    }
  }
  std::vector<Region> regions(1);
  regions[0].basis.references.push_back({strokes(192, 144, false), 1});
  const Image blank(size.width, size.height, 3, 0.5F);
  const Size half{96, 72};
  const std::vector<Size> stages = quietStages(size, half, 1);
  ASSERT_FALSE(stages.empty());
  const auto softened = [&](const Image& quiet) {
    return softenedPainting(hatched, half, stages, {regions, blank, Likeness{50}, 1, 1, quiet});
  };
  const Image kept = softened({});
  EXPECT_GT(uprightness(kept), 10);
  EXPECT_EQ(softened(Image(8, 8, 1)).pixels, kept.pixels);
  const Image quietly = softened(Image(8, 8, 1, 1.0F));
  EXPECT_LT(uprightness(quietly), 0.7);
  EXPECT_EQ(softened(Image(8, 8, 1, 1.0F)).pixels, quietly.pixels);
  Image right(192, 144, 1);
  for (int y = 0; y < 144; ++y) std::fill_n(&right.at(96, y, 0), 96, 1.0F);
  const Image divided = softened(right);
  EXPECT_GT(uprightness(crop(divided, 0, 0, 44, 72)), 10);
  EXPECT_LT(uprightness(crop(divided, 52, 0, 44, 72)), 0.8);
}

}  // namespace
}  // namespace jugendstil
