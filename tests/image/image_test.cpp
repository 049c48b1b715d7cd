// SPDX-License-Identifier: Apache-2.0
#include "image/image.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "image/colour.h"
#include "image/planes.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::sample;

TEST(Image, CropTakesTheRectangle) {
  const Image image = sample(9, 7);
  const Image part = crop(image, 2, 3, 4, 2);
  EXPECT_EQ(part.at(1, 1, 2), image.at(3, 4, 2));
  EXPECT_THROW(crop(image, 6, 0, 4, 2), Error);
}

TEST(Image, MirrorPadReflectsAndCropUndoesIt) {
  const Image image = sample(5, 4);
  const Image padded = mirrorPad(image, 3, 2, 9, 1);
  EXPECT_EQ(padded.at(2, 2, 0), image.at(0, 0, 0));
  EXPECT_EQ(padded.at(0, 2, 0), image.at(2, 0, 0));
  EXPECT_EQ(padded.at(8, 2, 1), image.at(4, 0, 1));
  EXPECT_EQ(crop(padded, 3, 2, 5, 4).pixels, image.pixels);
}

TEST(Colour, TransferFunctionsAreInverseBeyondTheRange) {
  for (const float v : {-0.3F, 0.0F, 0.02F, 0.5F, 1.0F, 1.7F})
    EXPECT_NEAR(linearToSrgb(srgbToLinear(v)), v, 1e-5F);
  EXPECT_NEAR(srgbToLinear(0.5F), 0.21404F, 1e-4F);
}

TEST(Colour, OpponentAxesAreOrthonormal) {
  for (std::size_t a = 0; a < 3; ++a) {
    for (std::size_t b = 0; b < 3; ++b) {
      float dot = 0;
      for (std::size_t c = 0; c < 3; ++c) dot += kOpponent[a][c] * kOpponent[b][c];
      EXPECT_NEAR(dot, a == b ? 1.0F : 0.0F, 1e-6F);
    }
  }
}

TEST(Planes, OpponentRoundTripIsExactToRounding) {
  const Image image = sample(13, 11);
  const Image back = imageOf(opponentOf(image));
  for (std::size_t i = 0; i < image.pixels.size(); ++i) EXPECT_NEAR(back.pixels[i], image.pixels[i], 1e-6F);
}

TEST(Planes, GreyHasNoChroma) {
  const Planes planes = opponentOf(Image(4, 4, 3, 0.7F));
  EXPECT_NEAR(planes.plane[1][5], 0.0F, 1e-6F);
  EXPECT_NEAR(planes.plane[2][5], 0.0F, 1e-6F);
}

}  // namespace
}  // namespace jugendstil
