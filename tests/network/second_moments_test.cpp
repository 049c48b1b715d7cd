// SPDX-License-Identifier: Apache-2.0
#include "network/second_moments.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/parallel.h"
#include "network/product.h"

namespace jugendstil {
namespace {

// Numbers of one sign and another, no two alike.
float valueAt(int channel, int position) {
  return std::sin(0.37F * static_cast<float>(channel * 1009 + position * 31 % 4099)) + 0.2F;
}

struct Case {
  int channels;
  int inner;  // of a block
};

class Layouts : public testing::TestWithParam<Case> {};

TEST_P(Layouts, AreSummedAsTheyStand) {
  const auto [channels, inner] = GetParam();
  const Layout layout{channels, (channels + inner - 1) / inner, inner, 23, 31};
  const int positions = 23 * 31;
  std::vector<float> values(layout.size());
  std::vector<std::uint16_t> halves(layout.size());
  for (int c = 0; c < channels; ++c) {
    for (int p = 0; p < positions; ++p) {
      values[layout.at(c, p)] = valueAt(c, p);
      halves[layout.at(c, p)] = toBf16(valueAt(c, p));
    }
  }
  const std::vector<float> moments = secondMoments({values.data(), false, layout});
  const std::vector<float> halfMoments = secondMoments({halves.data(), true, layout});
  for (int a = 0; a < channels; ++a) {
    for (int b = 0; b < channels; ++b) {
      double sum = 0;
      for (int p = 0; p < positions; ++p) sum += static_cast<double>(valueAt(a, p)) * valueAt(b, p);
      EXPECT_NEAR(moments[a * channels + b], sum, 1e-3) << a << " " << b;
      EXPECT_NEAR(halfMoments[a * channels + b], sum, 3) << a << " " << b;
    }
  }
}

INSTANTIATE_TEST_SUITE_P(All, Layouts,
                         testing::Values(Case{3, 1}, Case{8, 8}, Case{20, 16}, Case{32, 16}, Case{20, 20}));

TEST(SecondMoments, AreTheSameForAnyNumberOfThreads) {
  const Layout layout{32, 2, 16, 120, 160};
  std::vector<float> values(layout.size());
  for (int c = 0; c < 32; ++c) {
    for (int p = 0; p < 120 * 160; ++p) values[layout.at(c, p)] = valueAt(c, p);
  }
  setThreads(1);
  const std::vector<float> one = secondMoments({values.data(), false, layout});
  for (const int threads : {2, 3, 7}) {
    setThreads(threads);
    EXPECT_EQ(secondMoments({values.data(), false, layout}), one) << threads;
  }
  setThreads(0);
}

TEST(Product, IsTheSameForAnyNumberOfThreads) {
  constexpr std::size_t kRows = 150;
  constexpr std::size_t kColumns = 90;
  constexpr std::size_t kInner = 700;
  std::vector<float> a(kRows * kInner);
  std::vector<float> b(kColumns * kInner);
  for (std::size_t i = 0; i < a.size(); ++i) a[i] = valueAt(1, static_cast<int>(i));
  for (std::size_t i = 0; i < b.size(); ++i) b[i] = valueAt(2, static_cast<int>(i));
  std::vector<float> one(kRows * kColumns);
  std::vector<float> turned(one.size());
  setThreads(1);
  product(a, b, kInner, one);
  productWithTransposed(a, b, kInner, turned);
  double sum = 0;
  for (std::size_t k = 0; k < kInner; ++k) sum += static_cast<double>(a[149 * kInner + k]) * b[k * kColumns];
  EXPECT_NEAR(one[149 * kColumns], sum, 1e-3);
  for (const int threads : {2, 3, 7}) {
    setThreads(threads);
    std::vector<float> other(one.size());
    product(a, b, kInner, other);
    EXPECT_EQ(other, one) << threads;
    productWithTransposed(a, b, kInner, other);
    EXPECT_EQ(other, turned) << threads;
  }
  setThreads(0);
}

}  // namespace
}  // namespace jugendstil
