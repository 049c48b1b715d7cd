// SPDX-License-Identifier: Apache-2.0
// The elementwise passes between convolutions, on activations in whatever blocked layout oneDNN chose.
#pragma once

#include <bit>
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

#include "base/number.h"

namespace jugendstil {

// bf16 is the upper half of an f32; rounding is to nearest, ties to even.
inline float fromBf16(std::uint16_t bits) {
  return std::bit_cast<float>(static_cast<std::uint32_t>(bits) << 16);
}
inline std::uint16_t toBf16(float value) {
  const auto bits = std::bit_cast<std::uint32_t>(value);
  return static_cast<std::uint16_t>((bits + 0x7FFFU + ((bits >> 16) & 1U)) >> 16);
}

// A number of either kind in memory, read and written as f32.
inline float valueOf(float v) { return v; }
inline float valueOf(std::uint16_t v) { return fromBf16(v); }
inline void store(float* to, float v) { *to = v; }
inline void store(std::uint16_t* to, float v) { *to = toBf16(v); }

// Channels are split into blocks of `inner`; a value of channel c at (y, x) stands at
// ((c / inner * height + y) * width + x) * inner + c % inner. Covers nchw (inner 1), nChw8c, nChw16c
// and nhwc (inner = channels).
struct Layout {
  int channels = 0;
  int blocks = 0;
  int inner = 1;
  int height = 0;
  int width = 0;

  std::size_t rowSize() const { return cellCount(width, inner); }
  std::size_t row(int block, int y) const { return cellAt(y, block, height) * rowSize(); }
  std::size_t at(int channel, int position) const {
    return row(channel / inner, 0) + cellAt(channel % inner, position, inner);
  }
  std::size_t size() const { return cellCount(blocks, height) * rowSize(); }
};

// An activation or gradient in memory: f32, or bf16 as 16-bit words.
struct Buffer {
  void* data = nullptr;
  bool half = false;
  Layout layout;

  float* full() const { return static_cast<float*>(data); }
  std::uint16_t* bf16() const { return static_cast<std::uint16_t*>(data); }
  float get(std::size_t i) const { return half ? fromBf16(bf16()[i]) : full()[i]; }
  void set(std::size_t i, float v) const {
    if (half)
      bf16()[i] = toBf16(v);
    else
      full()[i] = v;
  }
};

inline std::size_t bytesOf(const Buffer& buffer) {
  return buffer.layout.size() * (buffer.half ? sizeof(std::uint16_t) : sizeof(float));
}

// gradient = activation > 0 ? gradient + extra : 0; extra may be null.
void maskByRelu(const Buffer& gradient, const void* extra, const Buffer& activation);

// Sum of squared differences of two buffers of one layout, times the weights of their positions where there
// are any.
double squaredDifference(const Buffer& a, const Buffer& b, std::span<const float> weights = {});

// to = scale * (a - b), or += with accumulate; all of one layout.
void scaledDifference(const Buffer& to, const Buffer& a, const Buffer& b, float scale, bool accumulate);

// to = weights[position] * from, or += with accumulate; both of one layout.
void scalePositions(const Buffer& to, const Buffer& from, std::span<const float> weights, bool accumulate);

// All positions outside the rectangle to 0; right and bottom are the first ones outside.
void clearOutside(const Buffer& buffer, int left, int top, int right, int bottom);

// A part of an activation, or of its gradient: the rectangle of so many positions that begins at (x, y).
struct Window {
  Buffer of;
  int x = 0;
  int y = 0;
};

// Takes a rectangle of width x height positions over, or adds it; all channels, in whatever layouts.
void copyWindow(const Window& to, const Window& from, int width, int height);
void addWindow(const Window& to, const Window& from, int width, int height);

// The values at some positions, n x C; and such values added there, each position as often as it is named.
std::vector<float> valuesAt(const Buffer& from, std::span<const int> positions);
void addValuesAt(const Buffer& to, std::span<const int> positions, std::span<const float> values);

// Dense P x C copy.
std::vector<float> toDense(const Buffer& from);

}  // namespace jugendstil
