// SPDX-License-Identifier: Apache-2.0
#include "weave/mix.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "weave/cloth.h"
#include "weave/layout.h"
#include "weave/weave.h"

namespace jugendstil {
namespace {

using testing_support::cloth;
const auto kGoOn = [](double) {};

double meanOf(const Image& image) {
  double sum = 0;
  for (const float v : image.pixels) sum += v;
  return sum / static_cast<double>(image.pixels.size());
}

TEST(DriftingTones, HaveAllTonesEquallyOftenAndRepeat) {
  const Image tones = driftingTones(90, 70, {true, true}, 30, 1);
  std::array<int, 4> quarters{};
  for (const float v : tones.pixels) ++quarters[std::min(3, static_cast<int>(4 * v))];
  for (const int n : quarters) EXPECT_NEAR(n, 90 * 70 / 4, 10);
  for (int y = 0; y < 70; ++y) EXPECT_NEAR(tones.at(89, y, 0), tones.at(0, y, 0), 0.08);
  const Image edged = driftingTones(90, 70, {}, 30, 1);
  double apart = 0;
  for (int y = 0; y < 70; ++y) apart += std::abs(edged.at(89, y, 0) - edged.at(0, y, 0)) / 70;
  EXPECT_GT(apart, 0.1);
}

TEST(SharesOver, DivideTheTonesByShare) {
  Image grey(100, 1, 1);
  for (int x = 0; x < 100; ++x) grey.at(x, 0, 0) = static_cast<float>(x) / 99;
  const auto hard = sharesOver(grey, {1, 3}, 0);
  EXPECT_NEAR(meanOf(hard[0]), 0.25, 0.01);
  EXPECT_NEAR(meanOf(hard[1]), 0.75, 0.01);
  EXPECT_EQ(hard[0].at(10, 0, 0), 1);
  EXPECT_EQ(hard[0].at(40, 0, 0), 0);
  const auto soft = sharesOver(grey, {1, 1, 1}, 0.3);
  for (int x = 0; x < 100; ++x)
    EXPECT_NEAR(soft[0].at(x, 0, 0) + soft[1].at(x, 0, 0) + soft[2].at(x, 0, 0), 1, 1e-5);
  EXPECT_GT(soft[0].at(35, 0, 0), 0.05);
  EXPECT_EQ(soft[1].at(50, 0, 0), 1);
}

TEST(Blended, OfOnePictureItIsThatPicture) {
  const Image picture = cloth(70, 50);
  const Image half(70, 50, 1, 0.5F);
  const Image out = blended({picture, picture}, {half, half});
  for (std::size_t i = 0; i < out.pixels.size(); ++i) ASSERT_NEAR(out.pixels[i], picture.pixels[i], 1e-5);
}

TEST(Blended, GoesFromOneToTheOther) {
  std::vector<Image> shares(2, Image(128, 64, 1));
  for (int y = 0; y < 64; ++y) {
    for (int x = 0; x < 128; ++x) {
      shares[1].at(x, y, 0) = static_cast<float>(x) / 127;
      shares[0].at(x, y, 0) = 1 - shares[1].at(x, y, 0);
    }
  }
  const Image out = blended({Image(128, 64, 3, 0.2F), Image(128, 64, 3, 0.8F)}, shares);
  EXPECT_LT(out.at(4, 32, 0), 0.3);
  EXPECT_NEAR(out.at(64, 32, 0), 0.5, 0.05);
  EXPECT_GT(out.at(123, 32, 0), 0.7);
}

// A bright cloth and a dark one: each part of the piece is either, in these shares.
TEST(Mix, SwatchesLieInTheirSharesWhereTheMapSays) {
  WeaveInputs inputs;
  inputs.swatches = {{cloth(80, 80, 1, 0.3F), 1}, {cloth(80, 80, 2, 1.0F), 1}};
  inputs.width = inputs.height = 120;
  inputs.over = Image(60, 60, 1);
  for (int y = 0; y < 60; ++y) {
    for (int x = 30; x < 60; ++x) inputs.over.at(x, y, 0) = 1;
  }
  for (const Mix mix : {Mix::apart, Mix::blended}) {
    inputs.mix = mix;
    const Image out = weave(inputs, kGoOn);
    EXPECT_NEAR(meanOf(crop(out, 0, 0, 50, 120)), 0.15, 0.05);
    EXPECT_NEAR(meanOf(crop(out, 70, 0, 50, 120)), 0.5, 0.05);
  }
  inputs.over = {};
  inputs.mix = Mix::apart;
  inputs.swatches[0].share = 3;
  EXPECT_NEAR(meanOf(weave(inputs, kGoOn)), 0.75 * 0.15 + 0.25 * 0.5, 0.05);
}

TEST(Layout, ColoursOfTheMapGoWhereTheyAreDrawn) {
  WeaveInputs inputs;
  Image swatch = cloth(80, 80, 1, 0.3F);
  Image map(80, 80, 3, 0.0F);
  for (int y = 0; y < 80; ++y) {
    for (int x = 40; x < 80; ++x) {
      for (int c = 0; c < 3; ++c) swatch.at(x, y, c) *= 3;
      map.at(x, y, 1) = 1;
    }
  }
  inputs.swatches = {{swatch, 1}};
  inputs.layoutMap = map;
  inputs.layout = Image(100, 100, 3, 0.0F);
  for (int y = 0; y < 50; ++y) {
    for (int x = 0; x < 100; ++x) inputs.layout.at(x, y, 1) = 1;
  }
  inputs.width = inputs.height = 100;
  const Image out = weave(inputs, kGoOn);
  EXPECT_GT(meanOf(crop(out, 0, 0, 100, 45)), 0.4);
  EXPECT_LT(meanOf(crop(out, 0, 55, 100, 45)), 0.2);
  // And without a map by its tones.
  inputs.layoutMap = {};
  for (std::size_t i = 0; i < inputs.layout.area(); ++i)
    std::fill_n(inputs.layout.pixel(i), 3, inputs.layout.pixel(i)[1]);
  const Image toned = weave(inputs, kGoOn);
  EXPECT_GT(meanOf(crop(toned, 0, 0, 100, 45)), 0.4);
  EXPECT_LT(meanOf(crop(toned, 0, 55, 100, 45)), 0.2);
}

// Photos have a hundred thousand colours; comparing each with each would take hours.
TEST(Layout, MapsOfManyColoursAreLookedThroughAtOnce) {
  Image map(256, 256);
  for (std::size_t i = 0; i < map.area(); ++i) {
    map.pixel(i)[0] = static_cast<float>(i % 256) / 255;
    map.pixel(i)[1] = static_cast<float>(i / 256) / 255;
  }
  Image layout = map;
  EXPECT_NO_THROW(requireColoursOf(layout, map));
  for (int y = 100; y < 103; ++y) {
    for (int x = 50; x < 53; ++x) std::fill_n(layout.pixel(cellAt(x, y, 256)), 3, 1.0F);
  }
  EXPECT_THROW(requireColoursOf(layout, map), UsageError);
}

TEST(Layout, AColourThatTheMapLacksIsNamedWithItsPlace) {
  Image map(40, 40, 3, 0.0F);
  Image layout(50, 50, 3, 0.0F);
  for (int y = 20; y < 30; ++y) {
    for (int x = 12; x < 30; ++x) layout.at(x, y, 0) = 1;
  }
  try {
    requireColoursOf(layout, map);
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_NE(std::string(e.what()).find("#ff0000 at 13,21"), std::string::npos) << e.what();
  }
  map.at(3, 3, 0) = 0.95F;  // nearly the same red
  EXPECT_NO_THROW(requireColoursOf(layout, map));
}

}  // namespace
}  // namespace jugendstil
