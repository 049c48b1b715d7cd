// SPDX-License-Identifier: Apache-2.0
#include "network/pooling.h"

#include <algorithm>
#include <bit>

#include "base/parallel.h"

namespace jugendstil {
namespace {

template <std::size_t kGroup, bool kLargest, typename T>
[[gnu::always_inline]] inline void poolGroups(const T* upper, const T* lower, T* out, float* sums,
                                              std::size_t columns, std::size_t inner) {
  for (std::size_t k = 0; k < inner; k += kGroup) {
    float group[kGroup] = {};
    for (std::size_t x = 0; x < columns; ++x) {
      const std::size_t at = 2 * x * inner + k;
      for (std::size_t i = 0; i < kGroup; ++i) {
        const float a = valueOf(upper[at + i]);
        const float b = valueOf(upper[at + inner + i]);
        const float c = valueOf(lower[at + i]);
        const float d = valueOf(lower[at + inner + i]);
        const float sum = (a + b) + (c + d);
        store(&out[x * inner + k + i], kLargest ? std::max(std::max(a, b), std::max(c, d)) : 0.25F * sum);
        group[i] += sum;
      }
    }
    for (std::size_t i = 0; i < kGroup; ++i) sums[k + i] += group[i];
  }
}

template <bool kLargest, typename T>
[[gnu::always_inline]] inline void poolAny(const T* upper, const T* lower, T* out, float* sums,
                                           std::size_t columns, std::size_t inner) {
  if (inner % 32 == 0) {
    poolGroups<32, kLargest>(upper, lower, out, sums, columns, inner);
  } else if (inner % 16 == 0) {
    poolGroups<16, kLargest>(upper, lower, out, sums, columns, inner);
  } else {
    poolGroups<1, kLargest>(upper, lower, out, sums, columns, inner);
  }
}

JUGENDSTIL_VECTORISED
void poolRows(const float* upper, const float* lower, float* out, float* sums, std::size_t columns,
              std::size_t inner, bool largest) {
  largest ? poolAny<true>(upper, lower, out, sums, columns, inner)
          : poolAny<false>(upper, lower, out, sums, columns, inner);
}

JUGENDSTIL_VECTORISED
void poolRows(const std::uint16_t* upper, const std::uint16_t* lower, std::uint16_t* out, float* sums,
              std::size_t columns, std::size_t inner, bool largest) {
  largest ? poolAny<true>(upper, lower, out, sums, columns, inner)
          : poolAny<false>(upper, lower, out, sums, columns, inner);
}

template <std::size_t kGroup, typename T>
[[gnu::always_inline]] inline void addGroups(const T* a, float* sums, std::size_t columns,
                                             std::size_t inner) {
  for (std::size_t k = 0; k < inner; k += kGroup) {
    float group[kGroup] = {};
    for (std::size_t x = 0; x < columns; ++x) {
      for (std::size_t i = 0; i < kGroup; ++i) group[i] += valueOf(a[x * inner + k + i]);
    }
    for (std::size_t i = 0; i < kGroup; ++i) sums[k + i] += group[i];
  }
}

template <typename T>
[[gnu::always_inline]] inline void addAny(const T* a, float* sums, std::size_t columns, std::size_t inner) {
  if (inner % 32 == 0) {
    addGroups<32>(a, sums, columns, inner);
  } else if (inner % 16 == 0) {
    addGroups<16>(a, sums, columns, inner);
  } else {
    addGroups<1>(a, sums, columns, inner);
  }
}

JUGENDSTIL_VECTORISED
void addColumns(const float* a, float* sums, std::size_t columns, std::size_t inner) {
  addAny(a, sums, columns, inner);
}

JUGENDSTIL_VECTORISED
void addColumns(const std::uint16_t* a, float* sums, std::size_t columns, std::size_t inner) {
  addAny(a, sums, columns, inner);
}

// Rows of sums by (block, group of image rows), added up in that order whatever the number of threads.
std::vector<float> addPartialSums(const std::vector<float>& partial, const Layout& layout, int rowsPerBlock) {
  const std::size_t inner = layout.inner;
  std::vector<double> total(layout.blocks * inner, 0.0);
  for (int r = 0; r < layout.blocks * rowsPerBlock; ++r) {
    for (std::size_t i = 0; i < inner; ++i) {
      total[r / rowsPerBlock * inner + i] += partial[r * inner + i];
    }
  }
  return {total.begin(), total.begin() + layout.channels};
}

// Channels are taken in groups of a fixed number, which keeps the innermost loop straight vector code; a
// group never reaches over two words of signs.
template <std::size_t kGroup, typename T>
[[gnu::always_inline]] inline void unpoolGroups(T* d, bool own, const T* q, const std::uint32_t* signs,
                                                std::size_t columns, std::size_t inner) {
  for (std::size_t x = 0; x < columns; ++x) {
    for (std::size_t k = 0; k < inner; k += kGroup) {
      const std::size_t at = x * inner + k;
      const std::uint32_t above = signs[at / 32] >> (at % 32);
      T* dx = d + at;
      const T* qx = q + x / 2 * inner + k;
      // A choice by a bit would become a branch for each value: all bits of what stays, none of what goes.
#pragma omp simd
      for (std::uint32_t i = 0; i < kGroup; ++i) {
        const float sum = 0.25F * valueOf(qx[i]) + (own ? valueOf(dx[i]) : 0.0F);
        const std::uint32_t kept = std::bit_cast<std::uint32_t>(sum) & (0U - (above >> i & 1U));
        store(&dx[i], std::bit_cast<float>(kept));
      }
    }
  }
}

template <typename T>
[[gnu::always_inline]] inline void unpoolAny(T* d, bool own, const T* q, const std::uint32_t* signs,
                                             std::size_t columns, std::size_t inner) {
  if (inner % 32 == 0) {
    own ? unpoolGroups<32>(d, true, q, signs, columns, inner)
        : unpoolGroups<32>(d, false, q, signs, columns, inner);
  } else if (inner % 16 == 0) {
    own ? unpoolGroups<16>(d, true, q, signs, columns, inner)
        : unpoolGroups<16>(d, false, q, signs, columns, inner);
  } else {
    unpoolGroups<1>(d, own, q, signs, columns, inner);
  }
}

JUGENDSTIL_VECTORISED
void unpoolRow(float* d, bool own, const float* q, const std::uint32_t* signs, std::size_t columns,
               std::size_t inner) {
  unpoolAny(d, own, q, signs, columns, inner);
}

JUGENDSTIL_VECTORISED
void unpoolRow(std::uint16_t* d, bool own, const std::uint16_t* q, const std::uint32_t* signs,
               std::size_t columns, std::size_t inner) {
  unpoolAny(d, own, q, signs, columns, inner);
}

// What of a row no pooled position stands for.
template <typename T>
void maskRest(T* d, bool own, const std::uint32_t* signs, std::size_t from, std::size_t to) {
  for (std::size_t i = from; i < to; ++i) d[i] = own && (signs[i / 32] >> (i % 32) & 1U) != 0 ? d[i] : T{0};
}

template <typename T>
void unpoolAll(T* d, bool own, const T* q, const Signs& signs, const Layout& layout, const Layout& pooled) {
  parallelFor(layout.blocks * layout.height, [&](int r) {
    const int block = r / layout.height;
    const int y = r % layout.height;
    T* to = d + layout.row(block, y);
    const std::size_t inner = layout.inner;
    const auto columns = y / 2 < pooled.height ? static_cast<std::size_t>(pooled.width) * 2 : 0;
    if (columns > 0) unpoolRow(to, own, q + pooled.row(block, y / 2), signs.row(r), columns, inner);
    maskRest(to, own, signs.row(r), columns * inner, layout.rowSize());
  });
}

// Four places of a 2x2, each with its activation and gradient; `own` is added to what arrives.
template <typename T>
[[gnu::always_inline]] inline void toLargest(T* upper, T* lower, bool own, const T* q, const T* above,
                                             const T* below, std::size_t columns, std::size_t inner) {
  for (std::size_t x = 0; x < columns; ++x) {
    const std::size_t at = 2 * x * inner;
    const T* arriving = q + x * inner;
#pragma omp simd
    for (std::size_t i = 0; i < inner; ++i) {
      const std::size_t left = at + i;
      const std::size_t right = left + inner;
      const float a = valueOf(above[left]);
      const float b = valueOf(above[right]);
      const float c = valueOf(below[left]);
      const float d = valueOf(below[right]);
      const float most = std::max(std::max(a, b), std::max(c, d));
      const float g = most > 0 ? valueOf(arriving[i]) : 0.0F;
      const float toA = a == most ? g : 0.0F;
      const float toB = a < most && b == most ? g : 0.0F;
      const float toC = std::max(a, b) < most && c == most ? g : 0.0F;
      const float toD = std::max(std::max(a, b), c) < most ? g : 0.0F;
      store(&upper[left], toA + (own && a > 0 ? valueOf(upper[left]) : 0.0F));
      store(&upper[right], toB + (own && b > 0 ? valueOf(upper[right]) : 0.0F));
      store(&lower[left], toC + (own && c > 0 ? valueOf(lower[left]) : 0.0F));
      store(&lower[right], toD + (own && d > 0 ? valueOf(lower[right]) : 0.0F));
    }
  }
}

JUGENDSTIL_VECTORISED
void toLargestRows(float* upper, float* lower, bool own, const float* q, const float* above,
                   const float* below, std::size_t columns, std::size_t inner) {
  own ? toLargest(upper, lower, true, q, above, below, columns, inner)
      : toLargest(upper, lower, false, q, above, below, columns, inner);
}

JUGENDSTIL_VECTORISED
void toLargestRows(std::uint16_t* upper, std::uint16_t* lower, bool own, const std::uint16_t* q,
                   const std::uint16_t* above, const std::uint16_t* below, std::size_t columns,
                   std::size_t inner) {
  own ? toLargest(upper, lower, true, q, above, below, columns, inner)
      : toLargest(upper, lower, false, q, above, below, columns, inner);
}

template <typename T>
void maskRest(T* d, bool own, const T* activation, std::size_t from, std::size_t to) {
  for (std::size_t i = from; i < to; ++i) d[i] = own && valueOf(activation[i]) > 0 ? d[i] : T{0};
}

template <typename T>
void toLargestAll(T* d, bool own, const T* q, const T* activation, const Layout& layout,
                  const Layout& pooled) {
  const int pairs = (layout.height + 1) / 2;
  parallelFor(layout.blocks * pairs, [&](int r) {
    const int block = r / pairs;
    const int y = r % pairs;
    const std::size_t upper = layout.row(block, 2 * y);
    if (y >= pooled.height) return maskRest(d + upper, own, activation + upper, 0, layout.rowSize());
    const std::size_t lower = layout.row(block, 2 * y + 1);
    const std::size_t columns = pooled.width;
    toLargestRows(d + upper, d + lower, own, q + pooled.row(block, y), activation + upper, activation + lower,
                  columns, layout.inner);
    for (const std::size_t row : {upper, lower})
      maskRest(d + row, own, activation + row, 2 * columns * layout.inner, layout.rowSize());
  });
}

template <typename T>
std::vector<float> poolAll(const T* from, T* to, Signs& signs, const Layout& layout, const Layout& pooled,
                           bool largest) {
  const std::size_t inner = layout.inner;
  const int pairs = (layout.height + 1) / 2;
  std::vector<float> partial(inner * layout.blocks * pairs, 0.0F);
  parallelFor(layout.blocks * pairs, [&](int r) {
    const int block = r / pairs;
    const int y = r % pairs;
    float* sums = &partial[r * inner];
    const T* upper = from + layout.row(block, 2 * y);
    signs.keepRow(upper, block * layout.height + 2 * y);
    if (y >= pooled.height) {
      addColumns(upper, sums, layout.width, inner);
      return;
    }
    const T* lower = from + layout.row(block, 2 * y + 1);
    signs.keepRow(lower, block * layout.height + 2 * y + 1);
    const std::size_t columns = pooled.width;
    poolRows(upper, lower, to + pooled.row(block, y), sums, columns, inner, largest);
    if (layout.width % 2 != 0) {
      addColumns(upper + 2 * columns * inner, sums, 1, inner);
      addColumns(lower + 2 * columns * inner, sums, 1, inner);
    }
  });
  return addPartialSums(partial, layout, pairs);
}

}  // namespace

std::vector<float> poolAndSum(const Buffer& from, const Buffer& pooled, Signs& signs, Pooling pooling) {
  const bool largest = pooling == Pooling::maximum;
  return from.half ? poolAll(from.bf16(), pooled.bf16(), signs, from.layout, pooled.layout, largest)
                   : poolAll(from.full(), pooled.full(), signs, from.layout, pooled.layout, largest);
}

void unpoolToLargest(const Buffer& gradient, bool addOwn, const Buffer& pooled, const Buffer& activation) {
  if (gradient.half)
    toLargestAll(gradient.bf16(), addOwn, pooled.bf16(), activation.bf16(), gradient.layout, pooled.layout);
  else
    toLargestAll(gradient.full(), addOwn, pooled.full(), activation.full(), gradient.layout, pooled.layout);
}

void unpoolAndMask(const Buffer& gradient, bool addOwn, const Buffer& pooled, const Signs& signs) {
  if (gradient.half)
    unpoolAll(gradient.bf16(), addOwn, pooled.bf16(), signs, gradient.layout, pooled.layout);
  else
    unpoolAll(gradient.full(), addOwn, pooled.full(), signs, gradient.layout, pooled.layout);
}

std::vector<float> channelSums(const Buffer& from) {
  const Layout& layout = from.layout;
  const std::size_t inner = layout.inner;
  const int rows = layout.blocks * layout.height;
  std::vector<float> partial(rows * inner, 0.0F);
  parallelFor(rows, [&](int r) {
    float* sums = &partial[r * inner];
    const std::size_t at = layout.row(0, r);
    if (from.half)
      addColumns(from.bf16() + at, sums, layout.width, inner);
    else
      addColumns(from.full() + at, sums, layout.width, inner);
  });
  return addPartialSums(partial, layout, layout.height);
}

}  // namespace jugendstil
