// SPDX-License-Identifier: Apache-2.0
// The first state of a weave: blocks of the swatches laid beside each other where they fit.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <vector>

#include "weave/atlas.h"
#include "weave/block.h"
#include "weave/woven.h"

namespace jugendstil {

// In pixels of the level that is laid.
struct QuiltSizes {
  BlockSize block;
  int edge = 64;  // of a swatch: within it no place should stand twice
};

// Lays blocks into a piece and over what lies there.
//
// Efros & Freeman 2001, "Image quilting for texture synthesis and transfer"; the even use of places is after
// Kaspar, Neubert, Lischinski, Pauly & Kopf 2015, here within a swatch's edge, where a repeat is seen.
class Quilter {
 public:
  // The piece and the atlas must live as long. Throws Error where a block is larger than all swatches.
  Quilter(Woven& piece, const Atlas& atlas, const QuiltSizes& sizes, std::uint64_t seed);

  // All of the piece that is not there yet, row by row, or from what is given inwards: each block is taken
  // from where it fits to what lies already and to the layout, and where little was taken from within a
  // swatch's edge; and is cut into what lies along the least difference. Progress is told after each row of
  // blocks, from 0 to 1.
  void lay(const std::function<void(double)>& progress);

  // One more block over what lies within this square, where one fits best, from elsewhere than what lies in
  // its middle, cut in on all sides.
  void layOverWithin(int x, int y, int side);

 private:
  void layInwards(const std::function<void(double)>& progress);
  float priorityAt(int x, int y) const;
  void layAgain(int x, int y);
  void layAt(int x, int y, const Ground& ground);
  void settle(int x, int y);
  void closeShown(int x, int y);
  void preferNear(int x, int y);
  void countUses(int x, int y);
  void weigh(const Ground& ground);
  Spot drawn();
  void put(int x, int y, Spot spot, const Ground& ground);

  Woven& piece_;
  const Atlas& atlas_;
  QuiltSizes sizes_;
  std::uint64_t seed_;
  std::uint64_t drawn_ = 0;
  bool anyKnown_ = false;     // of the piece
  std::vector<Spot> places_;  // where a whole block may be taken, by its first pixel
  std::vector<float> used_;   // of each, how often its pixels are shown within a swatch's edge, on average
  std::vector<float> costs_;
  std::vector<float> uses_;  // of each spot, and of the squares up to it
};

}  // namespace jugendstil
