// SPDX-License-Identifier: Apache-2.0
#include "network/kernels.h"

#include <algorithm>
#include <cstring>

#include "base/number.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

JUGENDSTIL_VECTORISED
void maskRow(float* d, const float* s, const float* a, std::size_t n) {
  if (s == nullptr) {
    for (std::size_t i = 0; i < n; ++i) d[i] = a[i] > 0 ? d[i] : 0.0F;
  } else {
    for (std::size_t i = 0; i < n; ++i) d[i] = a[i] > 0 ? d[i] + s[i] : 0.0F;
  }
}

JUGENDSTIL_VECTORISED
void maskRow(std::uint16_t* d, const std::uint16_t* s, const std::uint16_t* a, std::size_t n) {
  if (s == nullptr) {
    for (std::size_t i = 0; i < n; ++i) d[i] = a[i] != 0 ? d[i] : std::uint16_t{0};
  } else {
    for (std::size_t i = 0; i < n; ++i)
      d[i] = a[i] != 0 ? toBf16(fromBf16(d[i]) + fromBf16(s[i])) : std::uint16_t{0};
  }
}

template <typename T>
void maskAll(T* d, const T* s, const T* a, const Layout& layout) {
  parallelFor(layout.blocks * layout.height, [&](int r) {
    const std::size_t at = layout.row(0, r);
    maskRow(d + at, s == nullptr ? nullptr : s + at, a + at, layout.rowSize());
  });
}

}  // namespace

void maskByRelu(const Buffer& gradient, const void* extra, const Buffer& activation) {
  const Layout& layout = gradient.layout;
  if (gradient.half) {
    maskAll(gradient.bf16(), static_cast<const std::uint16_t*>(extra), activation.bf16(), layout);
  } else {
    maskAll(gradient.full(), static_cast<const float*>(extra), activation.full(), layout);
  }
}

namespace {

JUGENDSTIL_VECTORISED
float squaredRow(const float* a, const float* b, std::size_t n) {
  float sum = 0;
#pragma omp simd reduction(+ : sum)
  for (std::size_t i = 0; i < n; ++i) sum += (a[i] - b[i]) * (a[i] - b[i]);
  return sum;
}

JUGENDSTIL_VECTORISED
float squaredRow(const std::uint16_t* a, const std::uint16_t* b, std::size_t n) {
  float sum = 0;
#pragma omp simd reduction(+ : sum)
  for (std::size_t i = 0; i < n; ++i) {
    const float d = fromBf16(a[i]) - fromBf16(b[i]);
    sum += d * d;
  }
  return sum;
}

JUGENDSTIL_VECTORISED
void differenceRow(float* to, const float* a, const float* b, float scale, bool accumulate, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) to[i] = (accumulate ? to[i] : 0.0F) + scale * (a[i] - b[i]);
}

JUGENDSTIL_VECTORISED
void differenceRow(std::uint16_t* to, const std::uint16_t* a, const std::uint16_t* b, float scale,
                   bool accumulate, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) {
    to[i] = toBf16((accumulate ? fromBf16(to[i]) : 0.0F) + scale * (fromBf16(a[i]) - fromBf16(b[i])));
  }
}

}  // namespace

namespace {

template <typename T>
float weightedSquares(const T* a, const T* b, std::span<const float> weights, std::size_t inner) {
  float sum = 0;
  for (std::size_t x = 0; x < weights.size(); ++x) {
    if (weights[x] > 0) sum += weights[x] * squaredRow(a + x * inner, b + x * inner, inner);
  }
  return sum;
}

}  // namespace

double squaredDifference(const Buffer& a, const Buffer& b, std::span<const float> weights) {
  const Layout& layout = a.layout;
  const int rows = layout.blocks * layout.height;
  std::vector<float> partial(rows);
  parallelFor(rows, [&](int r) {
    const std::size_t at = layout.row(0, r);
    if (!weights.empty()) {
      const auto own = weights.subspan(cellAt(0, r % layout.height, layout.width), layout.width);
      partial[r] = a.half ? weightedSquares(a.bf16() + at, b.bf16() + at, own, layout.inner)
                          : weightedSquares(a.full() + at, b.full() + at, own, layout.inner);
      return;
    }
    partial[r] = a.half ? squaredRow(a.bf16() + at, b.bf16() + at, layout.rowSize())
                        : squaredRow(a.full() + at, b.full() + at, layout.rowSize());
  });
  double sum = 0;
  for (const float p : partial) sum += p;
  return sum;
}

void scaledDifference(const Buffer& to, const Buffer& a, const Buffer& b, float scale, bool accumulate) {
  const Layout& layout = to.layout;
  parallelFor(layout.blocks * layout.height, [&](int r) {
    const std::size_t at = layout.row(0, r);
    if (to.half)
      differenceRow(to.bf16() + at, a.bf16() + at, b.bf16() + at, scale, accumulate, layout.rowSize());
    else
      differenceRow(to.full() + at, a.full() + at, b.full() + at, scale, accumulate, layout.rowSize());
  });
}

namespace {

template <typename T>
[[gnu::always_inline]] inline void scaleAny(T* to, const T* from, const float* weights, bool accumulate,
                                            std::size_t columns, std::size_t inner) {
  for (std::size_t x = 0; x < columns; ++x) {
    const float w = weights[x];
    for (std::size_t i = x * inner; i < (x + 1) * inner; ++i)
      store(&to[i], (accumulate ? valueOf(to[i]) : 0.0F) + w * valueOf(from[i]));
  }
}

JUGENDSTIL_VECTORISED
void scaleRow(float* to, const float* from, const float* weights, bool accumulate, std::size_t columns,
              std::size_t inner) {
  scaleAny(to, from, weights, accumulate, columns, inner);
}

JUGENDSTIL_VECTORISED
void scaleRow(std::uint16_t* to, const std::uint16_t* from, const float* weights, bool accumulate,
              std::size_t columns, std::size_t inner) {
  scaleAny(to, from, weights, accumulate, columns, inner);
}

}  // namespace

void scalePositions(const Buffer& to, const Buffer& from, std::span<const float> weights, bool accumulate) {
  const Layout& layout = to.layout;
  const std::size_t columns = layout.width;
  const std::size_t inner = layout.inner;
  parallelFor(layout.blocks * layout.height, [&](int r) {
    const std::size_t at = layout.row(0, r);
    const float* w = &weights[r % layout.height * columns];
    if (to.half)
      scaleRow(to.bf16() + at, from.bf16() + at, w, accumulate, columns, inner);
    else
      scaleRow(to.full() + at, from.full() + at, w, accumulate, columns, inner);
  });
}

void clearOutside(const Buffer& buffer, int left, int top, int right, int bottom) {
  const Layout& layout = buffer.layout;
  const std::size_t size = buffer.half ? sizeof(std::uint16_t) : sizeof(float);
  auto* bytes = static_cast<std::byte*>(buffer.data);
  const auto clear = [&](std::size_t row, int from, int to) {
    const std::size_t inner = layout.inner;
    if (to > from) std::memset(bytes + (row + from * inner) * size, 0, (to - from) * inner * size);
  };
  parallelFor(layout.blocks * layout.height, [&](int i) {
    const int y = i % layout.height;
    const std::size_t row = layout.row(i / layout.height, y);
    if (y < top || y >= bottom) return clear(row, 0, layout.width);
    clear(row, 0, left);
    clear(row, right, layout.width);
  });
}

namespace {

JUGENDSTIL_VECTORISED
void addRow(float* to, const float* from, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) to[i] += from[i];
}

JUGENDSTIL_VECTORISED
void addRow(std::uint16_t* to, const std::uint16_t* from, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) to[i] = toBf16(fromBf16(to[i]) + fromBf16(from[i]));
}

std::size_t placeOf(const Window& window, int channel, int row, int column) {
  const Layout& layout = window.of.layout;
  return layout.at(channel, (window.y + row) * layout.width + window.x + column);
}

// Calls f(place there, place here, values) for each run of values that lie side by side in both.
template <typename F>
void eachRun(const Window& to, const Window& from, int width, int height, const F& f) {
  const Layout& there = to.of.layout;
  const bool alike = there.inner == from.of.layout.inner;
  const int step = alike ? there.inner : 1;
  parallelFor(height, [&](int y) {
    for (int c = 0; c < there.channels; c += step) {
      if (alike) {
        f(placeOf(to, c, y, 0), placeOf(from, c, y, 0), cellCount(width, step));
      } else {
        for (int x = 0; x < width; ++x) f(placeOf(to, c, y, x), placeOf(from, c, y, x), std::size_t{1});
      }
    }
  });
}

}  // namespace

void copyWindow(const Window& to, const Window& from, int width, int height) {
  const std::size_t size = to.of.half ? sizeof(std::uint16_t) : sizeof(float);
  auto* there = static_cast<std::byte*>(to.of.data);
  const auto* here = static_cast<const std::byte*>(from.of.data);
  eachRun(to, from, width, height, [&](std::size_t t, std::size_t h, std::size_t count) {
    std::memcpy(there + t * size, here + h * size, count * size);
  });
}

void addWindow(const Window& to, const Window& from, int width, int height) {
  eachRun(to, from, width, height, [&](std::size_t t, std::size_t h, std::size_t count) {
    if (to.of.half)
      addRow(to.of.bf16() + t, from.of.bf16() + h, count);
    else
      addRow(to.of.full() + t, from.of.full() + h, count);
  });
}

std::vector<float> valuesAt(const Buffer& from, std::span<const int> positions) {
  const Layout& layout = from.layout;
  const std::size_t channels = layout.channels;
  const std::size_t inner = layout.inner;
  std::vector<float> values(positions.size() * channels);
  parallelFor(positions.size(), [&](std::size_t i) {
    float* to = &values[i * channels];
    for (std::size_t c = 0; c < channels; c += inner) {
      const std::size_t at = layout.at(static_cast<int>(c), positions[i]);
      for (std::size_t k = 0; k < std::min(inner, channels - c); ++k) to[c + k] = from.get(at + k);
    }
  });
  return values;
}

// By groups of channels, so that no two threads meet at a position that is named twice.
void addValuesAt(const Buffer& to, std::span<const int> positions, std::span<const float> values) {
  const Layout& layout = to.layout;
  const std::size_t channels = layout.channels;
  const std::size_t group = std::min(layout.inner, 16);
  parallelFor((channels + group - 1) / group, [&](std::size_t g) {
    const std::size_t c = g * group;
    const std::size_t count = std::min(group, channels - c);
    for (std::size_t i = 0; i < positions.size(); ++i) {
      const std::size_t at = layout.at(static_cast<int>(c), positions[i]);
      for (std::size_t k = 0; k < count; ++k) to.set(at + k, to.get(at + k) + values[i * channels + c + k]);
    }
  });
}

std::vector<float> toDense(const Buffer& from) {
  const Layout& layout = from.layout;
  const std::size_t channels = layout.channels;
  std::vector<float> dense(cellCount(layout.height, layout.width) * channels);
  parallelFor(layout.height * layout.width, [&](int p) {
    for (int c = 0; c < layout.channels; ++c) {
      dense[p * channels + c] = from.get(layout.at(c, p));
    }
  });
  return dense;
}

}  // namespace jugendstil
