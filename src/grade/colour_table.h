// SPDX-License-Identifier: Apache-2.0
// A map of colour as a 3-D table, which is how looks are applied and exported.
#pragma once

#include <array>
#include <functional>
#include <vector>

namespace jugendstil {

// size^3 RGB triples over the cube of display-encoded RGB in [0, 1]^3, red running fastest.
struct ColourTable {
  int size = 0;
  std::vector<float> rgb;

  std::size_t nodes() const { return std::size_t{1} * size * size * size; }
};

using ColourFunction = std::function<std::array<float, 3>(const std::array<float, 3>&)>;

// The function at every node. Throws Error for a size outside [2, 129].
ColourTable tabulated(int size, const ColourFunction& function);

// Draws nodes together until colours a node apart, along axes and diagonals, come out at most `most` times as
// far apart in every channel, so that no smooth gradient gets steps; nodes darker than `from` (mean of RGB)
// are let be. Each too large difference is shared between its two ends, over and over (projections onto
// convex sets); what remains after 60 rounds is small.
void limitSlopes(ColourTable& table, double most, double from);

// The value between nodes, by tetrahedral interpolation (Sakamoto & Itooka 1981). Colours outside the cube
// get the value at its surface plus what they exceeded it by.
std::array<float, 3> interpolated(const ColourTable& table, const std::array<float, 3>& rgb);

// The same for rows of pixels in place.
class TableApplier {
 public:
  explicit TableApplier(const ColourTable& table);

  // count pixels of `channels` floats (3 or 4); a fourth is left alone.
  void apply(float* pixels, std::size_t count, int channels) const;

 private:
  int size_;
  std::array<std::vector<float>, 3> nodes_;  // by channel
};

}  // namespace jugendstil
