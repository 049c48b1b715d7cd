// SPDX-License-Identifier: Apache-2.0
#include "shelf/suiting.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "image/picture_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

// Waves of so many pixels, in a colour.
PictureMeasures waves(double length, float contrast, float red = 0.5F) {
  Image image(256, 200, 3);
  for (int y = 0; y < image.height; ++y) {
    for (int x = 0; x < image.width; ++x) {
      const auto wave = static_cast<float>(std::sin(x * 6.28 / length) * std::sin(y * 6.28 / length));
      for (int c = 0; c < 3; ++c) image.at(x, y, c) = (c == 0 ? red : 0.5F) + contrast * wave;
    }
  }
  return measuresOf(image);
}

TEST(Suiting, ThePhotoItselfHasNothingInTheWay) {
  const PictureMeasures photo = waves(12, 0.3F);
  const Suiting s = suiting(photo, photo);
  EXPECT_EQ(s.busier, 0);
  EXPECT_EQ(s.calmer, 0);
  EXPECT_EQ(s.areas, 0);
  EXPECT_NEAR(s.colours, 0, 1e-6);
  EXPECT_EQ(s.tones, 0);
  EXPECT_GT(s.misfit, 0);
}

TEST(Suiting, WhatIsSmootherThanThePhotoSuitsLessThanWhatIsAlike) {
  const PictureMeasures photo = waves(8, 0.3F);
  const Suiting alike = suiting(photo, waves(10, 0.25F));
  const Suiting smooth = suiting(photo, waves(120, 0.02F));
  EXPECT_LT(alike.misfit, smooth.misfit);
  EXPECT_GT(smooth.busier, 1);
  EXPECT_NE(whyItSuits(smooth).find("smoother than"), std::string::npos) << whyItSuits(smooth);
  EXPECT_NE(whyItSuits(alike).find("as fine as"), std::string::npos) << whyItSuits(alike);
  const Suiting busy = suiting(waves(120, 0.02F), waves(6, 0.4F));
  EXPECT_GT(busy.calmer, 0.5);
  EXPECT_NE(whyItSuits(busy).find("more goes on in it"), std::string::npos) << whyItSuits(busy);
}

TEST(Suiting, OfTwoThatAreElseAlikeTheNearerInColourComesFirst) {
  const PictureMeasures photo = waves(12, 0.2F);
  const Suiting near = suiting(photo, waves(12, 0.2F, 0.52F));
  const Suiting far = suiting(photo, waves(12, 0.2F, 0.8F));
  EXPECT_LT(near.misfit, far.misfit);
  EXPECT_LT(near.colours, far.colours);
  EXPECT_NE(whyItSuits(near).find("near in colour"), std::string::npos);
}

}  // namespace
}  // namespace jugendstil
