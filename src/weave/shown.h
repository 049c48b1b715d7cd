// SPDX-License-Identifier: Apache-2.0
// What the spots of an atlas show.
#pragma once

#include <array>
#include <vector>

#include "image/image.h"
#include "weave/atlas.h"

namespace jugendstil {

using Rgb = std::array<float, 3>;
inline Rgb operator-(const Rgb& a, const Rgb& b) { return {a[0] - b[0], a[1] - b[1], a[2] - b[2]}; }

// The atlas and the swatches (of the sizes that its parts have) must live as long.
class Shown {
 public:
  Shown(const Atlas& atlas, const std::vector<Image>& swatches) : atlas_(atlas), swatches_(swatches) {}

  // The colour of a spot within a swatch.
  Rgb of(Spot spot) const {
    const auto [swatch, x, y] = atlas_.pixel(spot);
    const float* p = swatches_[swatch].pixel(cellAt(x, y, swatches_[swatch].width));
    return {p[0], p[1], p[2]};
  }
  Spot beside(Spot spot, int dx, int dy) const { return atlas_.beside(spot, dx, dy); }
  bool isOpen(Spot spot) const { return atlas_.isOpen(spot); }

 private:
  const Atlas& atlas_;
  const std::vector<Image>& swatches_;
};

}  // namespace jugendstil
