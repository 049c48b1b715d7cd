// SPDX-License-Identifier: Apache-2.0
// The one picture type of the library.
#pragma once

#include <cstddef>
#include <vector>

#include "base/number.h"

namespace jugendstil {

class StateExchange;

// Row-major interleaved float picture. 1 channel is grey or a mask, 3 is RGB, 4 is RGB with unassociated
// alpha. 1.0 is display white. Whether colours are display-encoded sRGB or linear light is said by the
// function that takes or returns the picture; display-encoded is the rule.
struct Image {
  int width = 0;
  int height = 0;
  int channels = 3;
  std::vector<float> pixels;

  Image() = default;
  Image(int w, int h, int c = 3, float value = 0.0F)
      : width(w), height(h), channels(c), pixels(area() * c, value) {}

  std::size_t area() const { return cellCount(width, height); }
  bool empty() const { return pixels.empty(); }

  // Where a value stands in `pixels`.
  std::size_t index(int x, int y, int c) const { return cellAt(x, y, width) * channels + c; }
  float& at(int x, int y, int c) { return pixels[index(x, y, c)]; }
  float at(int x, int y, int c) const { return pixels[index(x, y, c)]; }

  // The values of a row, from its first pixel on; of the i-th pixel of all, counted row by row.
  float* row(int y) { return pixels.data() + index(0, y, 0); }
  const float* row(int y) const { return pixels.data() + index(0, y, 0); }
  float* pixel(std::size_t i) { return pixels.data() + i * channels; }
  const float* pixel(std::size_t i) const { return pixels.data() + i * channels; }
  std::size_t rowLength() const { return std::size_t{1} * width * channels; }
};

// The first three channels (grey is repeated), without alpha.
Image rgbOf(const Image& image);

// All values brought into [0, 1].
Image clipped(Image image);

// The rectangle at (x, y) of the given size; it must lie inside. Throws Error otherwise.
Image crop(const Image& image, int x, int y, int width, int height);

// Into a state's file or out of it.
void exchangeImage(StateExchange& with, Image& image);

// The place of n that one beyond them mirrors, after any number of bounces: -1 is 0, n is n - 1.
int reflected(int i, int n);

// The picture continued by reflection on every side, as often as the margins ask.
Image mirrorPad(const Image& image, int left, int top, int right, int bottom);

}  // namespace jugendstil
