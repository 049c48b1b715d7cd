// SPDX-License-Identifier: Apache-2.0
// The joins of a woven piece, moved and mended until they are not seen.
#pragma once

#include <array>
#include <cstdint>
#include <functional>
#include <vector>

#include "weave/atlas.h"
#include "weave/woven.h"

namespace jugendstil {

// Gives pixels at joins the spots that fit best to what is around them, of those that go on from their
// neighbours' and of those alike to them, but for what is shown too often. Pixels whose neighbours go on from
// each other are left alone, as are those that are given.
//
// Lefebvre & Hoppe 2005, "Parallel controllable texture synthesis", after Ashikhmin 2001 and Tong et al.
// 2002; the same for any number of threads, because each pass takes every fourth pixel and changes the piece
// when all were looked at.
class Mender {
 public:
  // All must live as long. `alike` is alikeOf the atlas, of which so many a spot are looked at.
  Mender(Woven& piece, const Atlas& atlas, const std::vector<Spot>& alike, std::size_t most = kAlike);

  // That there is something new in this rectangle; at first there is nowhere.
  void touch(int x, int y, int width, int height);
  void touchAll();

  // Looks at all pixels that have something new around them, up to so many times. Tells how much of it is
  // done, from 0 to 1; that may throw Stopped.
  void mend(int passes, const std::function<void(double)>& progress);

 private:
  struct Change {
    std::size_t pixel = 0;
    Spot spot = 0;
  };
  void countUses();
  void pass(int firstX, int firstY, const std::function<void(double)>& progress);
  bool atJoin(int x, int y) const;
  Spot best(int x, int y) const;
  float missed(std::size_t pixel, Spot spot) const;
  float gather(int x, int y, std::array<float, kWindowValues>& window,
               std::array<float, kWindowValues>& weights) const;

  Woven& piece_;
  const Atlas& atlas_;
  const std::vector<Spot>& alike_;
  std::size_t most_;
  std::array<float, kWindowValues> falloff_;
  std::vector<float> uses_;          // how often each spot's surroundings are shown, against the mean
  std::vector<std::uint8_t> stale_;  // where something changed since it was looked at
};

}  // namespace jugendstil
