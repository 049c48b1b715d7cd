// SPDX-License-Identifier: Apache-2.0
#include "network/signs.h"

#include "base/parallel.h"

namespace jugendstil {
namespace {

constexpr std::uint32_t kBits = 32;

inline bool above(float v) { return v > 0; }
// After a ReLU what is not 0 is above it.
inline bool above(std::uint16_t bf16) { return bf16 != 0; }

template <typename T>
[[gnu::always_inline]] inline std::uint32_t wordOf(const T* a, std::uint32_t n) {
  std::uint32_t word = 0;
#pragma omp simd reduction(| : word)
  for (std::uint32_t i = 0; i < n; ++i) word |= (above(a[i]) ? 1U : 0U) << i;
  return word;
}

template <typename T>
[[gnu::always_inline]] inline void keepAny(const T* a, std::uint32_t* words, std::size_t n) {
  std::size_t i = 0;
  for (; i + kBits <= n; i += kBits) words[i / kBits] = wordOf(a + i, kBits);
  if (i < n) words[i / kBits] = wordOf(a + i, static_cast<std::uint32_t>(n - i));
}

template <typename T>
[[gnu::always_inline]] inline void maskWord(T* d, std::uint32_t word, std::uint32_t n) {
  for (std::uint32_t i = 0; i < n; ++i) d[i] = ((word >> i) & 1U) != 0 ? d[i] : T{0};
}

template <typename T>
[[gnu::always_inline]] inline void maskAny(T* d, const std::uint32_t* words, std::size_t n) {
  std::size_t i = 0;
  for (; i + kBits <= n; i += kBits) maskWord(d + i, words[i / kBits], kBits);
  if (i < n) maskWord(d + i, words[i / kBits], static_cast<std::uint32_t>(n - i));
}

JUGENDSTIL_VECTORISED
void noteRow(const float* a, std::uint32_t* words, std::size_t n) { keepAny(a, words, n); }

JUGENDSTIL_VECTORISED
void noteRow(const std::uint16_t* a, std::uint32_t* words, std::size_t n) { keepAny(a, words, n); }

JUGENDSTIL_VECTORISED
void maskRow(float* d, const std::uint32_t* words, std::size_t n) { maskAny(d, words, n); }

JUGENDSTIL_VECTORISED
void maskRow(std::uint16_t* d, const std::uint32_t* words, std::size_t n) { maskAny(d, words, n); }

}  // namespace

Signs::Signs(const Layout& layout)
    : rowSize_(layout.rowSize()),
      rowWords_((rowSize_ + kBits - 1) / kBits),
      words_(rowWords_ * layout.blocks * layout.height) {}

void Signs::keepRow(const float* activation, int row) {
  noteRow(activation, &words_[row * rowWords_], rowSize_);
}

void Signs::keepRow(const std::uint16_t* activation, int row) {
  noteRow(activation, &words_[row * rowWords_], rowSize_);
}

void Signs::keep(const Buffer& activation) {
  const Layout& layout = activation.layout;
  parallelFor(layout.blocks * layout.height, [&](int r) {
    if (activation.half)
      keepRow(activation.bf16() + layout.row(0, r), r);
    else
      keepRow(activation.full() + layout.row(0, r), r);
  });
}

void Signs::mask(const Buffer& gradient) const {
  const Layout& layout = gradient.layout;
  parallelFor(layout.blocks * layout.height, [&](int r) {
    if (gradient.half)
      maskRow(gradient.bf16() + layout.row(0, r), row(r), layout.rowSize());
    else
      maskRow(gradient.full() + layout.row(0, r), row(r), layout.rowSize());
  });
}

}  // namespace jugendstil
