// SPDX-License-Identifier: Apache-2.0
// Pieces of any size grown from swatches.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "image/image.h"
#include "weave/woven.h"

namespace jugendstil {

// The smallest edge that a swatch may have, in pixels.
inline constexpr int kLeastSwatch = 32;

struct Swatch {
  Image picture;  // RGB, display-encoded
  Image map;      // RGB of the same size: what a layout's colours stand for; of all swatches or of none
};

// Throws Error for one that is smaller, or of one colour.
void requireSwatch(const Image& picture);

struct GrowInputs {
  std::vector<Swatch> swatches;
  int width = 0;
  int height = 0;
  Repeats repeats;
  std::uint64_t seed = 1;
  Image layout;            // RGB of the piece's size, in the colours of the swatches' maps; or empty
  float layoutWeight = 2;  // how much a layout counts against how well patches join
  // Where above 0, one channel of the piece's size, a hole is filled in the first swatch, which has the
  // piece's size; all else stays. Empty where a whole piece is grown.
  Image hole;
};

// A piece, and the atlas (without features) that its spots count through.
struct Grown {
  Woven piece;
  Atlas atlas;
};

// Coarse to fine: blocks are laid in the coarsest level (quilt.h), what is repeated within a swatch's edge is
// laid over (repeats.h), and joins are mended in every level (joins.h). Time grows with the piece's pixels.
// Progress is told from 0 to 1 and may throw Stopped. Throws Error: a swatch that is none
// (requireSwatch), a hole that leaves nothing to fill it with.
Grown grow(const GrowInputs& inputs, const std::function<void(double)>& progress);

// Its picture.
Image grownPicture(const GrowInputs& inputs, const std::function<void(double)>& progress);

}  // namespace jugendstil
