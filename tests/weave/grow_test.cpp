// SPDX-License-Identifier: Apache-2.0
#include "weave/grow.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "image/resample.h"
#include "weave/cloth.h"
#include "weave/picture.h"
#include "weave/repeats.h"
#include "weave/weave.h"

namespace jugendstil {
namespace {

using testing_support::cloth;
const auto kGoOn = [](double) {};

GrowInputs inputsFor(int swatch, int width, int height) {
  GrowInputs inputs;
  inputs.swatches = {{cloth(swatch, swatch), {}}};
  inputs.width = width;
  inputs.height = height;
  return inputs;
}

double meanOf(const Image& image) {
  double sum = 0;
  for (const float v : image.pixels) sum += v;
  return sum / static_cast<double>(image.pixels.size());
}

TEST(Grow, EveryPixelAwayFromJoinsIsTheSwatchs) {
  const GrowInputs inputs = inputsFor(100, 171, 90);
  const Grown grown = grow(inputs, kGoOn);
  const Image picture = pictureOf(grown.piece, grown.atlas, {inputs.swatches[0].picture}, kGoOn);
  int whole = 0;
  for (int y = 3; y < 87; ++y) {
    for (int x = 3; x < 168; ++x) {
      const Spot spot = grown.piece.at(x, y);
      bool inside = true;
      for (int dy = -2; dy <= 2; ++dy) {
        for (int dx = -2; dx <= 2; ++dx)
          inside = inside &&
                   grown.piece.at(x + dx, y + dy) == spot + static_cast<Spot>(dy * grown.atlas.width + dx);
      }
      if (!inside) continue;
      ++whole;
      const Atlas::Pixel from = grown.atlas.pixel(spot);
      for (int c = 0; c < 3; ++c)
        ASSERT_EQ(picture.at(x, y, c), inputs.swatches[0].picture.at(from.x, from.y, c));
    }
  }
  EXPECT_GT(whole, 1000);
}

TEST(Grow, HasTheSwatchsTonesAndNothingTwiceWithinAnEdge) {
  const GrowInputs inputs = inputsFor(128, 320, 260);
  const Grown grown = grow(inputs, kGoOn);
  const Image picture = pictureOf(grown.piece, grown.atlas, {inputs.swatches[0].picture}, kGoOn);
  EXPECT_NEAR(meanOf(picture), meanOf(inputs.swatches[0].picture), 0.02);
  EXPECT_LE(repeatedSquares(grown.piece, grown.atlas, 128 / 8, 128).size(), 2U);
  // A plain quilt has dozens of them: they are broken, not avoided by chance.
  std::size_t most = 0;
  std::vector<std::size_t> uses(16UL * 16);
  for (const Spot spot : grown.piece.spots) {
    const Atlas::Pixel p = grown.atlas.pixel(spot);
    most = std::max(most, ++uses[cellAt(p.x / 8, p.y / 8, 16)]);
  }
  EXPECT_LT(static_cast<double>(most), 4.0 * 320 * 260 / 256);
}

TEST(Grow, IsTheSameForAnyNumberOfThreadsAndAnotherForAnotherSeed) {
  GrowInputs inputs = inputsFor(100, 150, 110);
  setThreads(1);
  const Image one = grownPicture(inputs, kGoOn);
  setThreads(3);
  const Image three = grownPicture(inputs, kGoOn);
  setThreads(0);
  EXPECT_EQ(one.pixels, three.pixels);
  inputs.seed = 2;
  EXPECT_NE(one.pixels, grownPicture(inputs, kGoOn).pixels);
}

TEST(Grow, RepeatingEdgesMeet) {
  GrowInputs inputs = inputsFor(100, 140, 120);
  // An edge is one line only, and by chance it lies on bars of the cloth or between them: four pieces.
  const auto acrossEdge = [&] {
    double edge = 0;
    double inside = 0;
    for (inputs.seed = 1; inputs.seed <= 4; ++inputs.seed) {
      const Image p = grownPicture(inputs, kGoOn);
      for (int y = 0; y < p.height; ++y) {
        for (int c = 0; c < 3; ++c) {
          edge += std::pow(p.at(p.width - 1, y, c) - p.at(0, y, c), 2);
          for (int x = 0; x + 1 < p.width; ++x)
            inside += std::pow(p.at(x + 1, y, c) - p.at(x, y, c), 2) / (p.width - 1);
        }
      }
    }
    return edge / inside;
  };
  EXPECT_GT(acrossEdge(), 5);
  inputs.repeats = {true, true};
  EXPECT_LT(acrossEdge(), 1.5);
}

TEST(Grow, TellsProgressThatRisesAndStopsWhereAsked) {
  const GrowInputs inputs = inputsFor(100, 150, 110);
  double last = 0;
  grow(inputs, [&](double done) {
    EXPECT_GE(done, last);
    EXPECT_LE(done, 1);
    last = done;
  });
  EXPECT_EQ(last, 1);
  EXPECT_THROW(grow(inputs,
                    [](double done) {
                      if (done > 0.1) throw Stopped();
                    }),
               Stopped);
}

TEST(Grow, RefusesSwatchesThatAreNone) {
  EXPECT_THROW(requireSwatch(cloth(31, 200)), Error);
  EXPECT_THROW(requireSwatch(Image(64, 64, 3, 0.5F)), Error);
  EXPECT_NO_THROW(requireSwatch(cloth(32, 32)));
}

TEST(Grow, ManySizesOfSwatchAndPiece) {
  for (const auto& [swatch, width, height] :
       {std::array{32, 20, 20}, std::array{33, 1, 50}, std::array{70, 301, 15}, std::array{200, 60, 60}}) {
    const Image picture = grownPicture(inputsFor(swatch, width, height), kGoOn);
    EXPECT_EQ(picture.width, width);
    EXPECT_EQ(picture.height, height);
  }
}

WeaveInputs holeInputs() {
  WeaveInputs inputs;
  inputs.picture = cloth(160, 120);
  // A dark line that goes through the hole.
  for (int x = 0; x < 160; ++x) {
    for (int y = 58; y < 62; ++y) {
      for (int c = 0; c < 3; ++c) inputs.picture.at(x, y, c) = 0.02F;
    }
  }
  inputs.hole = Image(160, 120, 1);
  for (int y = 45; y < 75; ++y) {
    for (int x = 60; x < 90; ++x) inputs.hole.at(x, y, 0) = 1;
  }
  return inputs;
}

TEST(Fill, KeepsThePictureAndGoesOnWithItsLines) {
  WeaveInputs inputs = holeInputs();
  const Image whole = inputs.picture;
  // What lay in the hole is not to be seen in any way.
  for (std::size_t i = 0; i < inputs.hole.area(); ++i) {
    if (inputs.hole.pixels[i] > 0) std::fill_n(inputs.picture.pixel(i), 3, 1.0F);
  }
  const Image filled = weave(inputs, kGoOn);
  double line = 0;
  double beside = 0;
  for (int y = 0; y < 120; ++y) {
    for (int x = 0; x < 160; ++x) {
      if (inputs.hole.at(x, y, 0) <= 0) {
        for (int c = 0; c < 3; ++c) ASSERT_EQ(filled.at(x, y, c), whole.at(x, y, c));
      } else if (y >= 58 && y < 62) {
        line += filled.at(x, y, 0) / 120;
      } else {
        beside += filled.at(x, y, 0) / (26 * 30);
      }
    }
  }
  EXPECT_LT(line, 0.15);
  EXPECT_GT(beside, 0.35);
  EXPECT_LT(beside, 0.65);
}

TEST(Fill, IsTheSameForAnyNumberOfThreads) {
  const WeaveInputs inputs = holeInputs();
  setThreads(1);
  const Image one = weave(inputs, kGoOn);
  setThreads(3);
  const Image three = weave(inputs, kGoOn);
  setThreads(0);
  EXPECT_EQ(one.pixels, three.pixels);
}

TEST(Fill, RefusesAMaskThatCoversAllUnlessThereIsASwatch) {
  WeaveInputs inputs = holeInputs();
  inputs.hole = Image(160, 120, 1, 1.0F);
  EXPECT_THROW(weave(inputs, kGoOn), Error);
  inputs.swatches = {{cloth(80, 80, 3, 0.5F), 1}};
  EXPECT_NEAR(meanOf(weave(inputs, kGoOn)), 0.25, 0.03);
}

}  // namespace
}  // namespace jugendstil
