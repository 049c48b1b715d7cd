// SPDX-License-Identifier: Apache-2.0
#include "weave/along.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "base/stop.h"
#include "image/luma.h"
#include "weave/cloth.h"

namespace jugendstil {
namespace {

using testing_support::cloth;

// Short strokes of two inks, more of the dark one on the left.
Image print(int width, int height) {
  const Image noise = cloth(width, height);
  Image out(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const float level = 0.25F + 0.5F * static_cast<float>(x) / static_cast<float>(width);
      const bool light = noise.at(x, y, 0) > 1 - level;
      out.at(x, y, 0) = light ? 0.9F : 0.1F;
      out.at(x, y, 1) = light ? 0.8F : 0.1F;
      out.at(x, y, 2) = light ? 0.6F : 0.3F;
    }
  }
  return out;
}

// A light disc on a dark ground.
AlongInputs disc(double likeness) {
  AlongInputs inputs;
  inputs.references = {print(90, 70)};
  inputs.drawing = Image(96, 64, 3, 0.2F);
  for (int y = 0; y < 64; ++y) {
    for (int x = 0; x < 96; ++x) {
      if (std::hypot(x - 48, y - 32) < 20) std::fill_n(&inputs.drawing.at(x, y, 0), 3, 0.75F);
    }
  }
  inputs.likeness = likeness;
  return inputs;
}

Image woven(const AlongInputs& inputs) {
  return wovenAlong(inputs, [](double) {});
}

// How much lighter the disc is than its ground.
double contrast(const Image& picture) {
  double inside = 0;
  double outside = 0;
  int ins = 0;
  int outs = 0;
  for (int y = 0; y < 64; ++y) {
    for (int x = 0; x < 96; ++x) {
      const bool in = std::hypot(x - 48, y - 32) < 18;
      (in ? inside : outside) += lumaOf(&picture.pixels[picture.index(x, y, 0)]);
      ++(in ? ins : outs);
    }
  }
  return inside / ins - outside / outs;
}

TEST(Along, ShowsTheDrawingInTheReferencesInks) {
  const Image picture = woven(disc(60));
  ASSERT_EQ(picture.width, 96);
  ASSERT_EQ(picture.height, 64);
  EXPECT_GT(contrast(picture), 0.2);
  // Nothing but the two inks, and what lies between them at joins.
  int pure = 0;
  for (std::size_t i = 0; i < picture.area(); ++i) {
    const float* p = picture.pixel(i);
    const float part = (p[0] - 0.1F) / 0.8F;
    EXPECT_NEAR(p[1], 0.1F + 0.7F * part, 1e-3);
    EXPECT_NEAR(p[2], 0.3F + 0.3F * part, 1e-3);
    pure += part < 0.01F || part > 0.99F ? 1 : 0;
  }
  EXPECT_GT(pure, static_cast<int>(picture.area() * 6 / 10));
}

TEST(Along, LikenessHoldsTheDrawing) {
  const double free = contrast(woven(disc(0)));
  const double held = contrast(woven(disc(90)));
  EXPECT_GT(held, free + 0.1);
}

TEST(Along, SeedsDifferAndThreadsDoNot) {
  AlongInputs inputs = disc(50);
  setThreads(1);
  const Image one = woven(inputs);
  setThreads(3);
  EXPECT_EQ(woven(inputs).pixels, one.pixels);
  setThreads(0);
  inputs.seed = 2;
  EXPECT_NE(woven(inputs).pixels, one.pixels);
}

TEST(Along, TakesSeveralReferences) {
  AlongInputs inputs = disc(60);
  // A light one and a dark one: the disc is of the first, its ground of the second.
  Image light = print(60, 60);
  Image dark = light;
  for (std::size_t i = 0; i < light.area(); ++i) {
    light.pixel(i)[0] = 0.8F + 0.1F * light.pixel(i)[0];
    dark.pixel(i)[0] = 0.1F * dark.pixel(i)[0];
  }
  inputs.references = {light, dark};
  const Image picture = woven(inputs);
  EXPECT_GT(picture.at(48, 32, 0), 0.7F);
  EXPECT_LT(picture.at(4, 4, 0), 0.3F);
}

TEST(Along, TellsProgressAndStops) {
  double told = 0;
  wovenAlong(disc(50), [&](double done) {
    EXPECT_GE(done, told - 1e-9);
    EXPECT_LE(done, 1 + 1e-9);
    told = done;
  });
  EXPECT_DOUBLE_EQ(told, 1);
  EXPECT_THROW(wovenAlong(disc(50),
                          [](double done) {
                            if (done > 0.3) throw Stopped();
                          }),
               Stopped);
}

}  // namespace
}  // namespace jugendstil
