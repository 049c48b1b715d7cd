// SPDX-License-Identifier: Apache-2.0
#include "amplify/seen.h"

#include <gtest/gtest.h>

#include <numeric>

#include "base/stop.h"
#include "image/planes.h"
#include "network/evaluator.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::smallChain;
using testing_support::strokes;

// Strokes on the right, flat grey on the left.
Image halfDrawn() {
  Image photo = strokes(96, 64, true);
  for (int y = 0; y < photo.height; ++y) {
    for (int x = 0; x < 48; ++x) {
      for (int c = 0; c < 3; ++c) photo.at(x, y, c) = 0.5F;
    }
  }
  return photo;
}

double meanOver(const Image& heat, int from, int to) {
  double sum = 0;
  for (int y = 0; y < heat.height; ++y) {
    for (int x = from; x < to; ++x) sum += static_cast<double>(heat.at(x, y, 0));
  }
  return sum / (heat.height * (to - from));
}

TEST(Seen, AChannelIsWokenWhereSomethingIs) {
  const Woken woken(smallChain(), 0, halfDrawn());
  ASSERT_EQ(woken.shares().size(), 16U);
  EXPECT_NEAR(std::accumulate(woken.shares().begin(), woken.shares().end(), 0.0), 1, 1e-6);
  double most = 0;
  for (const int channel : strongest(woken.shares(), 4)) {
    const Image heat = woken.heat(channel);
    EXPECT_EQ(heat.width, 96);
    EXPECT_EQ(heat.height, 64);
    most = std::max(most, std::abs(meanOver(heat, 56, 96) - meanOver(heat, 0, 40)));
  }
  EXPECT_GT(most, 0.2);
}

TEST(Seen, TheStrongestComeFirst) {
  EXPECT_EQ(strongest({0.1, 0.4, 0.2, 0.3}, 3), (std::vector<int>{1, 3, 2}));
  EXPECT_EQ(strongest({0.5, 0.5}, 7), (std::vector<int>{0, 1}));
}

TEST(Seen, WhereThePictureEndsIsNothingToBeSeen) {
  const Woken woken(smallChain(), 1, Image(64, 48, 3, 0.4F));
  for (int channel = 0; channel < 32; ++channel) {
    const Image heat = woken.heat(channel);
    const auto [least, most] = std::minmax_element(heat.pixels.begin(), heat.pixels.end());
    EXPECT_LT(*most - *least, 0.02) << channel;
  }
}

TEST(Seen, HeatIsWarmAndTheRestIsGrey) {
  Image heat(2, 1, 1);
  heat.pixels = {0, 1};
  const Image shown = heatOver(Image(40, 20, 3, 0.5F), heat);
  EXPECT_EQ(shown.at(2, 5, 0), shown.at(2, 5, 2));
  EXPECT_GT(shown.at(37, 5, 0), shown.at(37, 5, 2) + 0.2F);
}

// Of one channel over a picture.
double answerOf(const Chain& chain, std::size_t band, int channel, const Image& picture) {
  Planes rgb(picture.width, picture.height);
  for (std::size_t i = 0; i < picture.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) rgb.plane[c][i] = picture.pixel(i)[c];
  }
  Evaluator evaluator(chain, picture.width, picture.height, Precision::full, {band});
  evaluator.forward(rgb.plane[0], rgb.plane[1], rgb.plane[2]);
  const auto c = static_cast<std::size_t>(channel);
  return static_cast<double>(evaluator.gram(band)[c * evaluator.mean(band).size() + c]);
}

TEST(Seen, ATextureWakesItsChannelMoreThanAnothersDoes) {
  const Chain chain = smallChain();
  const Image of3 = textureOf(chain, "two", 3, 64, 1, [](double) {});
  const Image of9 = textureOf(chain, "two", 9, 64, 1, [](double) {});
  EXPECT_EQ(of3.width, 64);
  EXPECT_GT(answerOf(chain, 1, 3, of3), 1.2 * answerOf(chain, 1, 3, of9));
  EXPECT_GT(answerOf(chain, 1, 9, of9), 1.2 * answerOf(chain, 1, 9, of3));
  EXPECT_EQ(textureOf(chain, "two", 3, 64, 1, [](double) {}).pixels, of3.pixels);
}

TEST(Seen, WhatIsGrownHasTheReferencesColours) {
  const Image reference = strokes(64, 64, true, 0.9F);
  const Image grown = grownBy(smallChain(), "one", reference, 64, [](double) {});
  EXPECT_EQ(grown.width, 64);
  const auto mean = [](const Image& picture, std::size_t c) {
    double sum = 0;
    for (std::size_t i = 0; i < picture.area(); ++i) sum += static_cast<double>(picture.pixel(i)[c]);
    return sum / static_cast<double>(picture.area());
  };
  EXPECT_THROW(grownBy(smallChain(), "one", reference, 64, [](double) { throw Stopped(); }), Stopped);
  for (const std::size_t c : {0, 1, 2}) EXPECT_NEAR(mean(grown, c), mean(reference, c), 0.08);
}

}  // namespace
}  // namespace jugendstil
