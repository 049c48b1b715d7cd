// SPDX-License-Identifier: Apache-2.0
// Where a woven piece shows the same place of a swatch twice, near enough to be seen.
#pragma once

#include <vector>

#include "weave/atlas.h"
#include "weave/woven.h"

namespace jugendstil {

// A square of a piece, by its first pixel.
struct PieceSquare {
  int x = 0;
  int y = 0;
};

// Squares of `side` pixels that show one square of a swatch whole, as another of them does not farther than
// `within` pixels away. Of each pair one is listed, and none that overlaps one listed before: when these are
// changed in their middle, and nothing else, hardly a pair is left.
std::vector<PieceSquare> repeatedSquares(const Woven& piece, const Atlas& atlas, int side, int within);

}  // namespace jugendstil
