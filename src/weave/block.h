// SPDX-License-Identifier: Apache-2.0
// Square blocks of a swatch, laid over what a piece has already.
#pragma once

#include <cstddef>
#include <vector>

#include "weave/atlas.h"
#include "weave/woven.h"

namespace jugendstil {

// In pixels of the level that is laid.
struct BlockSize {
  int side = 14;
  int overlap = 5;  // how far its edges may be cut back
};

// What lies under a block, and what a layout wishes there: rows of `length` values, kFeatures a pixel, as
// blockDistance() wants them.
struct Ground {
  std::vector<float> features;
  std::vector<float> weights;  // 1 where something lies, 0 elsewhere
  std::vector<float> wish;     // empty without a layout
  std::vector<float> wishWeights;
  std::size_t length = 0;
  int known = 0;   // pixels that something lies on,
  int inside = 0;  // of so many in the piece

  std::size_t at(int x, int y) const { return y * length + kFeatures * x; }
};

// The piece's pixel at a place that may lie beyond an edge, or -1.
std::ptrdiff_t pixelAt(const Woven& piece, int x, int y);

Ground groundAt(const Woven& piece, const Atlas& atlas, int x, int y, int side);

// Puts the block whose first pixel is this spot down at x, y: along each side that lies on something, what is
// beyond the cut of the least difference (Efros & Freeman 2001). What is given stays.
void putDown(Woven& piece, const Atlas& atlas, int x, int y, Spot spot, const Ground& ground, BlockSize size);

// The places of an atlas where a whole block may be taken, by its first pixel. Throws Error where there is
// none.
std::vector<Spot> placesFor(const Atlas& atlas, int side);

}  // namespace jugendstil
