// SPDX-License-Identifier: Apache-2.0
#include "network/pooling.h"

#include <gtest/gtest.h>

#include <cmath>

namespace jugendstil {
namespace {

// An activation, what it is pooled to, what comes back and where it arrives; 16 channels.
struct Pooled {
  Pooled(bool half, int height, int width)
      : large{16, 1, 16, height, width}, small{16, 1, 16, height / 2, width / 2} {
    const Layout* layouts[] = {&large, &small, &small, &large};
    Buffer* buffers[] = {&a, &pooled, &q, &back};
    for (int i = 0; i < 4; ++i) {
      store[i].resize(layouts[i]->size());
      *buffers[i] = {store[i].data(), half, *layouts[i]};
    }
  }
  Pooled(const Pooled&) = delete;

  Layout large;
  Layout small;
  Buffer a;
  Buffer pooled;
  Buffer q;
  Buffer back;
  std::vector<float> store[4];
};

// Pooling and its transpose: <pool(a), q> = <a, unpool(q)>, for odd sides and both number formats.
TEST(Pooling, BackwardIsTheTransposeOfForward) {
  for (const bool half : {false, true}) {
    const Pooled made(half, 7, 5);
    const auto& [large, small, a, pooled, q, back, store] = made;
    for (std::size_t i = 0; i < large.size(); ++i) a.set(i, 1.0F + static_cast<float>(i % 7));
    for (std::size_t i = 0; i < small.size(); ++i) q.set(i, static_cast<float>(i % 5) - 2.0F);
    Signs signs(large);
    const auto sums = poolAndSum(a, pooled, signs);
    EXPECT_EQ(sums, channelSums(a));
    unpoolAndMask(back, false, q, signs);
    double left = 0;
    double right = 0;
    for (std::size_t i = 0; i < small.size(); ++i)
      left += static_cast<double>(pooled.get(i)) * static_cast<double>(q.get(i));
    for (std::size_t i = 0; i < large.size(); ++i)
      right += static_cast<double>(a.get(i)) * static_cast<double>(back.get(i));
    EXPECT_NEAR(left, right, 0.01 * std::fabs(left) + 1e-3) << half;
    // Where the activation is zero nothing passes, in the dropped row and column only what stood there.
    for (const std::size_t i : {std::size_t{3}, large.size() - 1}) a.set(i, 0);
    poolAndSum(a, pooled, signs);
    for (std::size_t i = 0; i < large.size(); ++i) back.set(i, 2.0F);
    unpoolAndMask(back, true, q, signs);
    EXPECT_EQ(back.get(3), 0.0F);
    EXPECT_EQ(back.get(4), 2.0F + 0.25F * q.get(4));
    EXPECT_EQ(back.get(large.size() - 1), 0.0F);
    EXPECT_EQ(back.get(large.size() - 2), 2.0F);
  }
}

TEST(Pooling, TheLargestGetsAllThatComesBack) {
  for (const bool half : {false, true}) {
    const Pooled made(half, 5, 5);
    const auto& [large, small, a, pooled, q, back, store] = made;
    for (std::size_t i = 0; i < large.size(); ++i) a.set(i, 1);
    a.set(large.at(3, 6), 5);  // of channel 3, the lower right of the first four
    a.set(large.at(4, 0), 0);  // of channel 4 all four
    for (const int p : {1, 5, 6}) a.set(large.at(4, p), 0);
    for (std::size_t i = 0; i < small.size(); ++i) q.set(i, 2);
    Signs signs(large);
    EXPECT_EQ(poolAndSum(a, pooled, signs, Pooling::maximum), channelSums(a));
    EXPECT_EQ(pooled.get(small.at(3, 0)), 5);
    EXPECT_EQ(pooled.get(small.at(4, 0)), 0);
    for (std::size_t i = 0; i < large.size(); ++i) back.set(i, 0.5F);
    unpoolToLargest(back, true, q, a);
    EXPECT_EQ(back.get(large.at(3, 6)), 2.5F);
    EXPECT_EQ(back.get(large.at(3, 0)), 0.5F);
    EXPECT_EQ(back.get(large.at(4, 0)), 0) << "nothing passes where nothing was";
    EXPECT_EQ(back.get(large.at(5, 0)), 2.5F) << "the first of equals";
    EXPECT_EQ(back.get(large.at(5, 1)), 0.5F);
    EXPECT_EQ(back.get(large.at(5, 24)), 0.5F) << "the last row and column are dropped";
  }
}

}  // namespace
}  // namespace jugendstil
