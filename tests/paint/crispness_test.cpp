// SPDX-License-Identifier: Apache-2.0
#include "paint/crispness.h"

#include <gtest/gtest.h>

#include "image/edges.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

// Bars of two inks, softened so much.
Image bars(int reduced) {
  Image out(160, 120, 3);
  for (int y = 0; y < out.height; ++y) {
    for (int x = 0; x < out.width; ++x) {
      for (int c = 0; c < 3; ++c) out.at(x, y, c) = (x + y / 2) / 16 % 2 == 0 ? 0.15F : 0.85F;
    }
  }
  return reduced == 1 ? out : resample(resample(out, 160 / reduced, 120 / reduced), 160, 120);
}

TEST(Crispness, EdgesBecomeAsNarrowAsTheReferences) {
  std::vector<Region> print(1);
  print[0].basis.references.push_back({bars(1), 1});
  std::vector<Region> wash(1);
  wash[0].basis.references.push_back({bars(4), 1});
  const Image painting = bars(3);
  const double wide = edgeWidth(painting);
  const Image crisp = crispened(painting, print, 1);
  EXPECT_LT(edgeWidth(crisp), 0.8 * wide);
  // After what is softer itself, or has no edges, it stays as it is.
  EXPECT_EQ(crispened(painting, wash, 1).pixels, painting.pixels);
  std::vector<Region> plain(1);
  plain[0].basis.references.push_back({Image(64, 64, 3, 0.5F), 1});
  EXPECT_EQ(crispened(painting, plain, 1).pixels, painting.pixels);
}

}  // namespace
}  // namespace jugendstil
