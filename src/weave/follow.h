// SPDX-License-Identifier: Apache-2.0
// A piece brought nearer to its layout, block by block.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "weave/atlas.h"
#include "weave/block.h"
#include "weave/places.h"
#include "weave/woven.h"

namespace jugendstil {

// Lays blocks of one size over a piece, each where it follows the layout so much better than what lies there
// that it pays for its joins. A large block stays where the layout is calm, and gives way to smaller ones
// where it is drawn: sizes are chosen by the picture, and strokes are as whole as the drawing lets them be.
//
// Hertzmann, Jacobs, Oliver, Curless & Salesin 2001, "Image analogies"; Frigo, Sabater, Delon & Hellier 2016,
// "Split and match: example-based adaptive patch sampling for unsupervised style transfer".
class Follower {
 public:
  // The piece and the atlas must live as long; the piece is woven, and both have a layout. Throws Error where
  // a block is larger than all swatches.
  Follower(Woven& piece, const Atlas& atlas, int side, std::uint64_t seed);

  // Looks once at blocks beside each other all over the piece, in each round at others. The same for any
  // number of threads, because blocks are looked at in four turns, none of which overlap, and laid when all
  // of a turn were looked at. Returns how many were laid. Progress is told from 0 to 1 and may throw Stopped.
  int round(int number, const std::function<void(double)>& progress);

 private:
  struct Look;
  void countUses();
  Spot better(int x, int y) const;
  Look lookAt(int x, int y) const;
  std::vector<Spot> shownAround(int x, int y) const;
  float costOf(Spot place, const Look& look) const;

  Woven& piece_;
  const Atlas& atlas_;
  BlockSize size_;
  std::uint64_t seed_;
  PlaceIndex index_;
  std::vector<float> visible_;  // of each place, how much its repeat would be seen, from 0 to 1
  std::vector<float> uses_;     // of each place, what it costs that it is shown elsewhere
};

}  // namespace jugendstil
