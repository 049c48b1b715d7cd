// SPDX-License-Identifier: Apache-2.0
#include "image/faces.h"

#include <gtest/gtest.h>

#include "image/mask.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "support/support.h"

namespace jugendstil {
namespace {

// Drawn for this, of nobody; its middle is at (142, 86).
Image drawnFace() { return readPicture(testing_support::sourceFolder() / "tests/data/face.png").image; }

TEST(Faces, AreFoundWhereTheyAreInEverySize) {
  const Image face = drawnFace();
  for (const int times : {1, 2, 6}) {
    const std::vector<Face> faces = facesIn(resizePhoto(face, times * face.width, times * face.height));
    ASSERT_EQ(faces.size(), 1U) << times;
    EXPECT_NEAR(faces[0].x, 142 * times, 12 * times);
    EXPECT_NEAR(faces[0].y, 86 * times, 15 * times);
    EXPECT_NEAR(faces[0].size, 105 * times, 30 * times);
  }
}

TEST(Faces, LargestComesFirst) {
  const Image face = drawnFace();
  const Image small = resizePhoto(face, face.width * 2 / 3, face.height * 2 / 3);
  Image both(face.width * 2, face.height, 3, 0.3F);
  for (int y = 0; y < face.height; ++y) {
    for (int x = 0; x < face.width; ++x) {
      for (int c = 0; c < 3; ++c) both.at(face.width + x, y, c) = face.at(x, y, c);
    }
  }
  for (int y = 0; y < small.height; ++y) {
    for (int x = 0; x < small.width; ++x) {
      for (int c = 0; c < 3; ++c) both.at(x, y, c) = small.at(x, y, c);
    }
  }
  const std::vector<Face> faces = facesIn(both);
  ASSERT_EQ(faces.size(), 2U);
  EXPECT_GT(faces[0].size, faces[1].size);
  EXPECT_GT(faces[0].x, face.width);
}

TEST(Faces, NoneWhereThereIsNone) {
  EXPECT_TRUE(facesIn(testing_support::sample(200, 150)).empty());
  EXPECT_TRUE(facesIn(Image(6, 4)).empty());
}

TEST(Faces, MaskIsSoftAndALittleLargerThanTheFace) {
  const Image mask = maskOfFaces(Image(200, 160), {{100, 80, 80}});
  EXPECT_EQ(mask.at(100, 80, 0), 1.0F);
  EXPECT_EQ(mask.at(100, 45, 0), 1.0F);  // the forehead
  EXPECT_EQ(mask.at(100, 20, 0), 0.0F);
  EXPECT_EQ(mask.at(160, 80, 0), 0.0F);
  float steepest = 0;
  for (int x = 1; x < 200; ++x)
    steepest = std::max(steepest, std::abs(mask.at(x, 80, 0) - mask.at(x - 1, 80, 0)));
  EXPECT_LT(steepest, 0.15F);
  EXPECT_EQ(coverage(maskOfFaces(Image(20, 10), {})), 0);
}

}  // namespace
}  // namespace jugendstil
