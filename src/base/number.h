// SPDX-License-Identifier: Apache-2.0
// Counting and rounding, where the language's own types are too narrow or too many.
#pragma once

#include <cmath>
#include <cstddef>

namespace jugendstil {

// Rows and columns are counted in int, the cells of a grid of them in std::size_t: with a photo of any size
// their number outgrows an int. Nothing may be negative.
inline std::size_t cellCount(int width, int height) { return std::size_t{1} * width * height; }

// The number of a cell, row by row from 0.
inline std::size_t cellAt(int x, int y, int width) { return std::size_t{1} * y * width + x; }

// The nearest whole number, halves away from 0.
inline int rounded(double value) { return static_cast<int>(std::lround(value)); }

// How many there are, where it is known that they fit into an int.
template <typename Container>
int countOf(const Container& container) {
  return static_cast<int>(container.size());
}

}  // namespace jugendstil
