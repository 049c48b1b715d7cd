// SPDX-License-Identifier: Apache-2.0
#include "grade/colour_table.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using Rgb = std::array<float, 3>;

Rgb linearMap(const Rgb& c) {
  return {0.2F + 0.5F * c[0] - 0.1F * c[1], 0.7F * c[1] + 0.2F * c[2], 0.9F - 0.6F * c[0] + 0.05F * c[2]};
}

TEST(ColourTable, ALinearMapIsExactBetweenNodes) {
  const ColourTable table = tabulated(5, linearMap);
  for (const Rgb& c :
       {Rgb{0.13F, 0.77F, 0.5F}, Rgb{1, 0, 0.3F}, Rgb{0.99F, 0.98F, 0.97F}, Rgb{0.5F, 0.5F, 0.5F}}) {
    const Rgb got = interpolated(table, c);
    const Rgb wanted = linearMap(c);
    for (std::size_t k = 0; k < 3; ++k) EXPECT_NEAR(got[k], wanted[k], 1e-5F);
  }
}

TEST(ColourTable, GreysAreInterpolatedAlongTheDiagonalOnly) {
  // A table that is wild everywhere but on its grey axis leaves greys alone.
  const ColourTable table = tabulated(9, [](const Rgb& c) {
    return c[0] == c[1] && c[1] == c[2] ? c : Rgb{0, 1, 0.5F};
  });
  for (float v = 0; v <= 1; v += 0.03F) {
    const Rgb got = interpolated(table, {v, v, v});
    for (std::size_t k = 0; k < 3; ++k) EXPECT_NEAR(got[k], v, 1e-5F);
  }
}

TEST(ColourTable, OutsideTheCubeTheExcessIsKept) {
  const ColourTable table = tabulated(3, [](const Rgb& c) {
    return Rgb{c[0] * 0.5F, c[1] * 0.5F, c[2] * 0.5F};
  });
  const Rgb got = interpolated(table, {1.5F, -0.25F, 0.5F});
  EXPECT_NEAR(got[0], 1.0F, 1e-6F);
  EXPECT_NEAR(got[1], -0.25F, 1e-6F);
  EXPECT_NEAR(got[2], 0.25F, 1e-6F);
}

TEST(ColourTable, TheFastRowsAreTheSame) {
  const ColourTable table = tabulated(17, [](const Rgb& c) {
    return Rgb{c[0] * c[1], std::sqrt(c[1]), 0.5F * c[2] + 0.4F * c[0] * c[0]};
  });
  for (const int channels : {3, 4}) {
    Image image = testing_support::sample(53, 11, 4, channels);
    image.pixels[0] = 1.3F;
    image.pixels[1] = image.pixels[2] = 0.5F;
    const Image before = image;
    TableApplier(table).apply(image.pixels.data(), image.area(), channels);
    const auto step = static_cast<std::size_t>(channels);
    for (std::size_t i = 0; i < image.area(); ++i) {
      const float* from = &before.pixels[i * step];
      const Rgb wanted = interpolated(table, {from[0], from[1], from[2]});
      for (std::size_t c = 0; c < 3; ++c) EXPECT_NEAR(image.pixels[i * step + c], wanted[c], 2e-6F);
      if (channels == 4) {
        EXPECT_EQ(image.pixels[i * 4 + 3], from[3]);
      }
    }
  }
}

TEST(ColourTable, LimitingSlopesEndsStepsAndLeavesGentleMapsAlone) {
  const ColourTable gentle = tabulated(9, linearMap);
  ColourTable same = gentle;
  limitSlopes(same, 1.5, 0);
  EXPECT_EQ(same.rgb, gentle.rgb);
  ColourTable steep = tabulated(9, [](const Rgb& c) { return Rgb{c[0] > 0.6F ? 1.0F : 0.0F, c[1], c[2]}; });
  limitSlopes(steep, 1.5, 0);
  for (int i = 0; i < 8; ++i) {
    const Rgb a = interpolated(steep, {static_cast<float>(i) / 8, 0.5F, 0.5F});
    const Rgb b = interpolated(steep, {static_cast<float>(i + 1) / 8, 0.5F, 0.5F});
    EXPECT_LE(std::fabs(b[0] - a[0]), 1.5F / 8 * 1.05F);
    EXPECT_NEAR(a[1], 0.5F, 1e-5F);
  }
}

TEST(ColourTable, SizesThatCannotBeAreRefused) {
  EXPECT_THROW(tabulated(1, linearMap), Error);
  EXPECT_THROW(tabulated(130, linearMap), Error);
}

}  // namespace
}  // namespace jugendstil
