// SPDX-License-Identifier: Apache-2.0
// How a large picture is cut into tiles.
#pragma once

#include <cstddef>
#include <vector>

#include "network/evaluator_engine.h"
#include "network/section.h"

namespace jugendstil {

// The pixels that a tile answers for, and the window that it must see for that: larger by the section's
// reach on every side, but not beyond the picture.
struct Tile {
  int x = 0;  // of the window, in the picture
  int y = 0;
  Core core;  // in the picture
};

struct Tiling {
  int width = 0;  // of every window
  int height = 0;
  std::vector<Tile> tiles;
};

// The sections of a chain, one after the other over the whole picture, each in tiles of its own. Between
// sections the whole picture's pooled activations are kept, and on the way back their gradient: the more
// cuts, the less margin is computed twice, and the more is kept.
struct TilePlan {
  std::vector<Section> sections;
  std::vector<Tiling> tilings;  // one for each
};

// The plan with the least work that holds at most `budget` bytes at once. Throws Error where every plan
// holds more, or the picture's sides are no multiples of what the deepest band needs.
TilePlan planTiles(const Chain& chain, int width, int height, Precision precision,
                   const std::vector<std::size_t>& bands, std::size_t budget);

}  // namespace jugendstil
