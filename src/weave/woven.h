// SPDX-License-Identifier: Apache-2.0
// A woven picture before it is one: for each pixel the spot of a swatch that it shows.
#pragma once

#include <cstdint>
#include <limits>
#include <vector>

#include "base/number.h"
#include "weave/atlas.h"

namespace jugendstil {

// Which edges of a piece meet.
struct Repeats {
  bool across = false;
  bool down = false;
};

inline constexpr Spot kUnwoven = std::numeric_limits<Spot>::max();

struct Woven {
  int width = 0;
  int height = 0;
  Repeats repeats;
  std::vector<Spot> spots;          // row by row; kUnwoven where nothing is yet
  std::vector<std::uint8_t> given;  // where above 0, the spot stays; empty where none is given
  // Where above 0, joins are not moved; empty where they are everywhere.
  std::vector<std::uint8_t> settled;
  std::vector<float> wish;  // what a layout asks for, four values a pixel; empty without one
  float wishWeight = 0;
  std::vector<float> drawn;  // how much of that counts at each pixel, from 0 to 1; empty: all

  Woven() = default;
  Woven(int w, int h, Repeats r) : width(w), height(h), repeats(r), spots(cellCount(w, h), kUnwoven) {}

  // A column or row brought inside where the piece repeats; -1 where there is none.
  int column(int x) const { return inside(x, width, repeats.across); }
  int row(int y) const { return inside(y, height, repeats.down); }
  Spot at(int x, int y) const { return spots[cellAt(x, y, width)]; }
  // The same of places that may lie beyond an edge: kUnwoven where the piece does not repeat there.
  Spot seen(int x, int y) const {
    const int u = column(x);
    const int v = row(y);
    return u < 0 || v < 0 ? kUnwoven : at(u, v);
  }
  bool mayMove(std::size_t i) const { return !stays(i) && (settled.empty() || settled[i] == 0); }
  bool stays(std::size_t i) const { return !given.empty() && given[i] != 0; }

 private:
  static int inside(int at, int side, bool repeats) {
    if (at >= 0 && at < side) return at;
    return repeats ? (at % side + side) % side : -1;
  }
};

}  // namespace jugendstil
