// How a large picture is cut into tiles.
#pragma once

#include <cstddef>
#include <vector>

#include "network/chain.h"
#include "network/evaluator.h"
#include "network/evaluator_impl.h"

namespace jugendstil {

// The pixels that a tile answers for, and the window that it must see for that: larger by half the deepest
// band's receptive field on every side, but not beyond the picture.
struct Tile {
  int x = 0;  // of the window
  int y = 0;
  Core core;  // in the picture
};

struct Tiling {
  int width = 0;  // of every window
  int height = 0;
  std::vector<Tile> tiles;
};

// The fewest tiles of one size whose evaluator holds at most `budget` bytes. Sides, cores and windows are
// multiples of what the deepest band needs. Throws Error where the smallest tile holds more, or the picture's
// sides are no such multiples.
Tiling tilesFor(const Chain& chain, int width, int height, Precision precision,
                const std::vector<std::size_t>& bands, std::size_t budget);

}  // namespace jugendstil
