// SPDX-License-Identifier: Apache-2.0
#include "image/box_mean.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "support/support.h"

namespace jugendstil {
namespace {

TEST(BoxMean, IsTheMeanOfTheSquareCutAtTheEdges) {
  const Image image = testing_support::sample(23, 17, 1, 1);
  for (const int radius : {1, 4, 30}) {
    const auto means = boxMeans(image.pixels, 23, 17, radius);
    for (int y = 0; y < 17; ++y) {
      for (int x = 0; x < 23; ++x) {
        double sum = 0;
        int count = 0;
        for (int v = std::max(0, y - radius); v <= std::min(16, y + radius); ++v) {
          for (int u = std::max(0, x - radius); u <= std::min(22, x + radius); ++u, ++count)
            sum += static_cast<double>(image.at(u, v, 0));
        }
        EXPECT_NEAR(means[image.index(x, y, 0)], sum / count, 1e-6) << x << "," << y << ", " << radius;
      }
    }
  }
}

}  // namespace
}  // namespace jugendstil
