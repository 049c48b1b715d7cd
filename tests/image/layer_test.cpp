// SPDX-License-Identifier: Apache-2.0
#include "image/layer.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "image/colour.h"

namespace jugendstil {
namespace {

TEST(Layer, OpacityMixesInLinearLight) {
  LayerSettings settings;
  settings.opacity = 0.25;
  const Image below(4, 4, 3, 0.2F);
  Image above(4, 4, 3, 0.8F);
  Layer(settings, 4, 4).combine(below, above, 0);
  EXPECT_NEAR(above.pixels[0], linearToSrgb(0.75F * srgbToLinear(0.2F) + 0.25F * srgbToLinear(0.8F)), 1e-5F);
}

TEST(Layer, TheMaskSaysWhereAndSoftEdgesMix) {
  LayerSettings settings;
  settings.mask = Image(2, 1, 1);
  settings.mask->at(1, 0, 0) = 1;
  const Image below(40, 10, 3, 0.2F);
  Image above(40, 10, 3, 0.8F);
  Layer(settings, 40, 10).combine(below, above, 0);
  EXPECT_EQ(above.at(0, 5, 0), 0.2F);
  EXPECT_EQ(above.at(39, 5, 0), 0.8F);
  EXPECT_GT(above.at(20, 5, 0), 0.3F);
  EXPECT_LT(above.at(20, 5, 0), 0.75F);
}

TEST(Layer, BlendModesAreUsed) {
  LayerSettings settings;
  settings.blend = BlendMode::multiply;
  const Image below(4, 4, 3, 0.5F);
  Image above(4, 4, 3, 0.6F);
  Layer(settings, 4, 4).combine(below, above, 0);
  EXPECT_NEAR(above.pixels[0], 0.3F, 1e-6F);
}

TEST(Layer, KnowsWhereItReplacesAll) {
  EXPECT_TRUE(Layer({}, 4, 4).plain());
  EXPECT_FALSE(Layer({0.5, BlendMode::normal, std::nullopt}, 4, 4).plain());
  EXPECT_THROW(Layer({1, BlendMode::normal, Image()}, 4, 4), Error);
}

}  // namespace
}  // namespace jugendstil
