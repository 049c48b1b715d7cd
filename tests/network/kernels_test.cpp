// SPDX-License-Identifier: Apache-2.0
#include "network/kernels.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

#include "network/signs.h"

namespace jugendstil {
namespace {

TEST(Bf16, RoundsToNearestEven) {
  EXPECT_EQ(fromBf16(toBf16(1.0F)), 1.0F);
  EXPECT_EQ(fromBf16(toBf16(-2.5F)), -2.5F);
  EXPECT_EQ(fromBf16(toBf16(1.0F + 1.0F / 256)), 1.0F);  // a tie goes to the even neighbour
  EXPECT_EQ(fromBf16(toBf16(1.0F + 3.0F / 256)), 1.0F + 4.0F / 256);
  EXPECT_TRUE(std::isinf(fromBf16(toBf16(std::numeric_limits<float>::infinity()))));
}

TEST(Layout, CoversBlockedAndPlainFormats) {
  const Layout blocked{32, 2, 16, 3, 5};
  EXPECT_EQ(blocked.at(17, 4), (3U * 5 + 4) * 16 + 1);
  const Layout rows{32, 1, 32, 3, 5};
  EXPECT_EQ(rows.at(17, 4), 4U * 32 + 17);
  const Layout plain{3, 3, 1, 3, 5};
  EXPECT_EQ(plain.at(2, 4), 2U * 15 + 4);
}

// Between a blocked picture and windows of every layout: what is taken over stands where it should, what is
// added is added, and nothing around it is touched.
TEST(Windows, AreTakenAndAddedInAnyLayout) {
  constexpr int kChannels = 32;
  const Layout large{kChannels, 2, 16, 6, 7};
  for (const bool half : {false, true}) {
    for (const int inner : {16, 32, 1}) {
      const Layout small{kChannels, kChannels / inner, inner, 3, 4};
      std::vector<float> stores[2] = {std::vector<float>(large.size()), std::vector<float>(small.size())};
      const Buffer picture{stores[0].data(), half, large};
      const Buffer window{stores[1].data(), half, small};
      const auto value = [](int c, int y, int x) { return static_cast<float>(c + 2 * y + x); };
      for (int c = 0; c < kChannels; ++c) {
        for (int p = 0; p < 6 * 7; ++p) picture.set(large.at(c, p), value(c, p / 7, p % 7));
      }
      copyWindow({window}, {picture, 2, 1}, 4, 3);
      addWindow({picture, 2, 1}, {window}, 4, 3);
      for (int c = 0; c < kChannels; ++c) {
        for (int p = 0; p < 3 * 4; ++p)
          EXPECT_EQ(window.get(small.at(c, p)), value(c, 1 + p / 4, 2 + p % 4)) << inner;
        for (int p = 0; p < 6 * 7; ++p) {
          const int y = p / 7;
          const int x = p % 7;
          const bool inside = y >= 1 && y < 4 && x >= 2 && x < 6;
          EXPECT_EQ(picture.get(large.at(c, p)), (inside ? 2.0F : 1.0F) * value(c, y, x)) << inner;
        }
      }
    }
  }
}

// A position that is named twice counts twice, in every layout.
TEST(SinglePositions, AreReadAndAddedTo) {
  for (const bool half : {false, true}) {
    for (const int inner : {1, 16, 48}) {
      const Layout layout{48, 48 / inner, inner, 3, 5};
      std::vector<float> store(layout.size());
      const Buffer buffer{store.data(), half, layout};
      for (int c = 0; c < 48; ++c) {
        for (int p = 0; p < 15; ++p) buffer.set(layout.at(c, p), static_cast<float>(c + 2 * p));
      }
      const std::vector<int> positions{4, 11, 4};
      const std::vector<float> values = valuesAt(buffer, positions);
      ASSERT_EQ(values.size(), 3U * 48U);
      EXPECT_EQ(values[48 + 17], 17.0F + 22.0F);
      addValuesAt(buffer, positions, values);
      for (int c = 0; c < 48; ++c) {
        EXPECT_EQ(buffer.get(layout.at(c, 4)), 3.0F * static_cast<float>(c + 8)) << inner;
        EXPECT_EQ(buffer.get(layout.at(c, 11)), 2.0F * static_cast<float>(c + 22)) << inner;
        EXPECT_EQ(buffer.get(layout.at(c, 5)), static_cast<float>(c + 10)) << inner;
      }
    }
  }
}

// Rows whose length is no multiple of a word's bits, in both number formats.
TEST(Signs, PassGradientsWhereTheActivationWasAboveZero) {
  for (const bool half : {false, true}) {
    const Layout layout{16, 1, 16, 4, 5};
    std::vector<float> store[2] = {std::vector<float>(layout.size()), std::vector<float>(layout.size())};
    const Buffer activation{store[0].data(), half, layout};
    const Buffer gradient{store[1].data(), half, layout};
    for (std::size_t i = 0; i < layout.size(); ++i) {
      activation.set(i, i % 3 == 0 || i % 7 == 2 ? 0.5F : 0.0F);
      gradient.set(i, 1.0F + static_cast<float>(i % 11));
    }
    Signs signs(layout);
    signs.keep(activation);
    signs.mask(gradient);
    for (std::size_t i = 0; i < layout.size(); ++i) {
      const float expected = i % 3 == 0 || i % 7 == 2 ? 1.0F + static_cast<float>(i % 11) : 0.0F;
      ASSERT_EQ(gradient.get(i), expected) << i << " " << half;
    }
  }
}

}  // namespace
}  // namespace jugendstil
