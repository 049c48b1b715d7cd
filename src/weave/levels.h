// SPDX-License-Identifier: Apache-2.0
// The sizes in which a piece is woven, one after the other.
#pragma once

#include <functional>
#include <vector>

#include "image/image.h"
#include "weave/atlas.h"
#include "weave/woven.h"

namespace jugendstil {

// All that weaving looks at, in one size.
struct WeaveLevel {
  std::vector<SwatchLevel> swatches;
  int width = 0;  // of the piece
  int height = 0;
  Image layout;  // RGB of the piece's size, or empty
  Image hole;    // 1 channel of the piece's size, above 0 where it is filled; or empty

  // Of the smallest swatch.
  int edge() const;
};

// Halved as long as goesOn(level); the finest first.
std::vector<WeaveLevel> levelsFrom(WeaveLevel finest, const std::function<bool(const WeaveLevel&)>& goesOn);

// A piece with what is known before it is woven: what the layout asks for, which counts `layoutWeight`, and
// what lies around a hole in the first swatch.
Woven unwoven(const WeaveLevel& level, const Atlas& atlas, Repeats repeats, float layoutWeight);

// Gives a piece the spots of the one half its size, where it has none.
void takeOver(Woven& piece, const Woven& coarse, const Atlas& atlas, const Atlas& coarser);

// alikeOf() the coarsest level's atlas, which had features of this tone: found further down, where all can be
// compared with all.
std::vector<Spot> firstAlike(const WeaveLevel& level, const Atlas& atlas, float tone);

}  // namespace jugendstil
