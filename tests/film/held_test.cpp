// SPDX-License-Identifier: Apache-2.0
#include "film/held.h"

#include <gtest/gtest.h>

#include "image/picture_file.h"
#include "image/resample.h"
#include "support/support.h"

namespace jugendstil {
namespace {

TEST(Held, FacesAreHeldWhereTheyAreInEachFrame) {
  // Drawn for this, of nobody.
  const Image face = readPicture(testing_support::sourceFolder() / "tests/data/face.png").image;
  for (const int moved : {0, 40}) {
    const Image frame = crop(face, moved, 0, 230, 180);
    const Likeness likeness = likenessIn(frame, 40, {{{}, 90}});
    ASSERT_FALSE(likeness.here.empty()) << moved;
    EXPECT_NEAR(likeness.here.at(142 - moved, 86, 0), 0.9F, 1e-5F);
    EXPECT_NEAR(likeness.here.at(225, 170, 0), 0.4F, 1e-5F);
  }
}

TEST(Held, WithoutFacesAllIsAsUsual) {
  EXPECT_TRUE(likenessIn(testing_support::sample(80, 60), 40, {{{}, 90}}).here.empty());
}

TEST(Held, MasksLieStillOverFramesOfAnySize) {
  Image left(8, 6, 1);
  for (int y = 0; y < 6; ++y) {
    for (int x = 0; x < 4; ++x) left.at(x, y, 0) = 1;
  }
  const Likeness likeness = likenessIn(Image(80, 60), 40, {{left, 100}});
  EXPECT_NEAR(likeness.here.at(10, 30, 0), 1, 1e-5F);
  EXPECT_NEAR(likeness.here.at(70, 30, 0), 0.4F, 1e-5F);
}

}  // namespace
}  // namespace jugendstil
