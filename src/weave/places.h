// SPDX-License-Identifier: Apache-2.0
// Places of swatches that are like a block of a layout, found without looking at all of them.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "weave/atlas.h"

namespace jugendstil {

// What a block of a layout is looked up by: the mean of each quarter, and how much each counts.
struct BlockLook {
  std::array<std::array<float, kFeatures>, 4> quarters{};
  std::array<float, 4> weights{};
};

// All places where a block may be taken, in bins by the mean colour that the atlas's map has over it.
class PlaceIndex {
 public:
  // The atlas must live as long, and has a map whose values vary by about 1 around 0. Throws Error where no
  // place has room for a block.
  PlaceIndex(const Atlas& atlas, int side);

  // Every place, by its first spot, in no order that matters.
  const std::vector<Spot>& places() const { return places_; }

  // At most kFound of the places near in colour, those that are nearest by quarters. Of very many that are
  // alike in colour some are looked at; `dice` says which.
  static constexpr std::size_t kFound = 96;
  std::vector<Spot> nearest(const BlockLook& look, std::uint64_t dice) const;

 private:
  using Quarters = std::array<std::array<float, kFeatures>, 4>;
  struct Found {
    float cost = 0;
    Spot place = 0;
  };
  std::vector<float> meanQuarters() const;
  Quarters quartersAt(Spot place, const std::vector<float>& means) const;
  void sortIntoBins(const std::vector<float>& means);
  void collect(std::size_t bin, const BlockLook& look, std::uint64_t dice, std::vector<Found>& found) const;

  const Atlas& atlas_;
  int half_;
  std::vector<Spot> places_;        // bin by bin
  std::vector<Quarters> quarters_;  // of each place, beside each other as they are looked at
  std::vector<std::size_t> bins_;   // where in places_ each bin begins, and where the last ends
};

}  // namespace jugendstil
