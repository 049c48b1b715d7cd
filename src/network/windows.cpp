// SPDX-License-Identifier: Apache-2.0
#include "network/windows.h"

#include <algorithm>
#include <vector>

#include "base/parallel.h"

namespace jugendstil {
namespace {

// Rows or columns of a window that lie in the picture.
struct Span {
  int begin;
  int end;
};

Span spanOf(int position, const PoolWindow& window, int length) {
  const int begin = 2 * position - window.before;
  return {std::max(0, begin), std::min(length, begin + window.size)};
}

// Calls f(row of the pooled, rows, columns) for every window of a block.
template <typename F>
void eachWindow(const Layout& from, const Layout& pooled, const PoolWindow& window, const F& f) {
  for (int y = 0; y < pooled.height; ++y) {
    const Span rows = spanOf(y, window, from.height);
    for (int x = 0; x < pooled.width; ++x) f(y, x, rows, spanOf(x, window, from.width));
  }
}

template <typename T>
void pool(const T* from, T* to, const Layout& layout, const Layout& pooled, Pooling pooling,
          const PoolWindow& window) {
  const std::size_t inner = layout.inner;
  parallelFor(layout.blocks, [&](int block) {
    std::vector<float> sum(inner);
    std::vector<float> most(inner);
    eachWindow(layout, pooled, window, [&](int y, int x, Span rows, Span columns) {
      bool first = true;
      std::fill(sum.begin(), sum.end(), 0.0F);
      for (int v = rows.begin; v < rows.end; ++v) {
        for (int u = columns.begin; u < columns.end; ++u) {
          const T* a = from + layout.row(block, v) + u * inner;
          for (std::size_t i = 0; i < inner; ++i) {
            const float value = valueOf(a[i]);
            sum[i] += value;
            most[i] = first ? value : std::max(most[i], value);
          }
          first = false;
        }
      }
      const float share = 1.0F / static_cast<float>((rows.end - rows.begin) * (columns.end - columns.begin));
      T* out = to + pooled.row(block, y) + x * inner;
      for (std::size_t i = 0; i < inner; ++i)
        store(&out[i], pooling == Pooling::maximum ? most[i] : sum[i] * share);
    });
  });
}

template <typename T>
void unpool(T* gradient, const T* arriving, const T* activation, const Layout& layout, const Layout& pooled,
            Pooling pooling, const PoolWindow& window) {
  const std::size_t inner = layout.inner;
  parallelFor(layout.blocks, [&](int block) {
    std::vector<float> most(inner);
    std::vector<std::size_t> where(inner);
    eachWindow(layout, pooled, window, [&](int y, int x, Span rows, Span columns) {
      const T* q = arriving + pooled.row(block, y) + x * inner;
      const float share = 1.0F / static_cast<float>((rows.end - rows.begin) * (columns.end - columns.begin));
      bool first = true;
      for (int v = rows.begin; v < rows.end; ++v) {
        for (int u = columns.begin; u < columns.end; ++u) {
          const std::size_t at = layout.row(block, v) + u * inner;
          for (std::size_t i = 0; i < inner; ++i) {
            if (pooling == Pooling::average) {
              store(&gradient[at + i], valueOf(gradient[at + i]) + share * valueOf(q[i]));
            } else if (const float value = valueOf(activation[at + i]); first || value > most[i]) {
              most[i] = value;
              where[i] = at + i;
            }
          }
          first = false;
        }
      }
      if (pooling != Pooling::maximum) return;
      for (std::size_t i = 0; i < inner; ++i)
        store(&gradient[where[i]], valueOf(gradient[where[i]]) + valueOf(q[i]));
    });
  });
}

template <typename T>
void mask(T* gradient, const T* extra, const T* activation, const Layout& layout, float slope) {
  const std::size_t n = layout.rowSize();
  parallelFor(layout.blocks * layout.height, [&](int row) {
    const std::size_t begin = row * n;
    for (std::size_t i = begin; i < begin + n; ++i) {
      const float sum = valueOf(gradient[i]) + (extra != nullptr ? valueOf(extra[i]) : 0.0F);
      store(&gradient[i], valueOf(activation[i]) > 0 ? sum : slope * sum);
    }
  });
}

}  // namespace

void poolWindows(const Buffer& from, const Buffer& to, Pooling pooling, const PoolWindow& window) {
  if (from.half)
    pool(from.bf16(), to.bf16(), from.layout, to.layout, pooling, window);
  else
    pool(from.full(), to.full(), from.layout, to.layout, pooling, window);
}

void unpoolWindows(const Buffer& gradient, bool add, const Buffer& pooled, const Buffer& activation,
                   Pooling pooling, const PoolWindow& window) {
  if (!add) std::fill_n(static_cast<std::byte*>(gradient.data), bytesOf(gradient), std::byte{0});
  if (gradient.half)
    unpool(gradient.bf16(), pooled.bf16(), activation.bf16(), gradient.layout, pooled.layout, pooling,
           window);
  else
    unpool(gradient.full(), pooled.full(), activation.full(), gradient.layout, pooled.layout, pooling,
           window);
}

void maskBySlope(const Buffer& gradient, const void* extra, const Buffer& activation, float slope) {
  if (gradient.half)
    mask(gradient.bf16(), static_cast<const std::uint16_t*>(extra), activation.bf16(), gradient.layout,
         slope);
  else
    mask(gradient.full(), static_cast<const float*>(extra), activation.full(), gradient.layout, slope);
}

}  // namespace jugendstil
