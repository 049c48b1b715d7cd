// SPDX-License-Identifier: Apache-2.0
// Swatches as a weave looks at them: all side by side in one array, so that a place in any of them is one
// number and the place beside it the next.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include "image/image.h"
#include "weave/window.h"

namespace jugendstil {

// A pixel of a swatch, counted through the atlas. The spot to the right is the next number, the one below
// stands Atlas::width further on.
using Spot = std::uint32_t;

// A swatch in the size that a level has. All display-encoded.
struct SwatchLevel {
  Image picture;  // RGB
  Image map;      // RGB: what a layout's colours stand for; empty without a layout
  Image closed;   // 1 channel, above 0 where nothing may be taken from; empty where all may
};

struct Atlas {
  int width = 0;
  int height = 0;
  // Four values a spot: lightness about its surroundings' mean, two chroma planes, and how strong the edges
  // around are (the structure channel of Kaspar, Neubert, Lischinski, Pauly & Kopf 2015, "Self tuning texture
  // optimization"). Scaled so that the first three vary by 1 in all. Repeated around each swatch for windows.
  std::vector<float> features;
  std::vector<float> map;          // four values a spot (the last is 0), or none
  std::vector<std::uint8_t> open;  // whether a spot may be woven from

  struct Part {
    int left = 0;  // of the swatch's first pixel
    int top = 0;
    int width = 0;
    int height = 0;
  };
  std::vector<Part> parts;  // one a swatch

  Spot spot(int x, int y) const { return static_cast<Spot>(cellAt(x, y, width)); }
  // The spot so many pixels away; it may lie in no swatch, which isOpen() knows.
  Spot beside(Spot spot, int dx, int dy) const {
    return spot + static_cast<Spot>(static_cast<std::ptrdiff_t>(dy) * width + dx);
  }
  bool isOpen(Spot spot) const { return spot < open.size() && open[spot] != 0; }
  // The swatch that a spot belongs to, and its pixel there.
  struct Pixel {
    int swatch = 0;
    int x = 0;
    int y = 0;
  };
  Pixel pixel(Spot spot) const;
};

// How much of its surroundings' mean lightness counts in a spot's features: of a grown piece tones may drift,
// a hole's must not.
inline constexpr float kGrownTone = 0.4F;
inline constexpr float kFilledTone = 1.0F;

// Throws Error where no spot is open.
Atlas atlasOf(const std::vector<SwatchLevel>& swatches, float tone);

// The window around a spot; rows stand atlas.width * kFeatures apart.
inline const float* windowAt(const Atlas& atlas, Spot spot) {
  return atlas.features.data() +
         (spot - std::size_t{kWindow} * static_cast<std::size_t>(atlas.width) - kWindow) * kFeatures;
}

// For each spot the kAlike ones whose windows are most like its own and that are not just beside it; itself
// where there is none (k-coherence, Tong et al. 2002). Found among all in the coarsest level, and around
// twice the coarser level's in the others. kAlike a spot, one after the other.
inline constexpr int kAlike = 4;
std::vector<Spot> alikeOf(const Atlas& atlas);
std::vector<Spot> alikeOf(const Atlas& atlas, const Atlas& coarser, const std::vector<Spot>& alike);

// The spot of the finer level for one of the coarser and the pixel's parity, moved to the nearest that is
// within the swatch.
Spot finerSpot(const Atlas& finer, const Atlas& coarser, Spot spot, int oddX, int oddY);

}  // namespace jugendstil
