// SPDX-License-Identifier: Apache-2.0
// Dense optical flow.
#pragma once

#include <cstdint>
#include <vector>

#include "base/number.h"
#include "image/image.h"

namespace jugendstil {

// The lightness of a frame in 8 bits: all that flow looks at, and small enough to keep many of.
struct GreyFrame {
  int width = 0;
  int height = 0;
  std::vector<std::uint8_t> pixels;
};

// Of a display-encoded picture with three channels or one.
GreyFrame greyOf(const Image& frame);

// For each pixel, how far along x and y lies the place in the other frame that shows the same thing; in
// pixels.
struct Flow {
  int width = 0;
  int height = 0;
  std::vector<float> u;
  std::vector<float> v;

  Flow() = default;
  Flow(int w, int h) : width(w), height(h), u(cellCount(w, h)), v(u.size()) {}
  std::size_t index(int x, int y) const { return cellAt(x, y, width); }
};

// Where the pixels of `from` are in `to`: dense inverse search with variational refinement (Kroeger, Timofte,
// Dai & Van Gool 2016). Frames smaller than the search's patches give no motion. Throws Error for frames of
// different sizes.
Flow denseFlow(const GreyFrame& from, const GreyFrame& to);

// Both directions at once.
struct FlowPair {
  Flow there;  // from the first to the second
  Flow back;   // from the second to the first
};
FlowPair flowBetween(const GreyFrame& first, const GreyFrame& second);

// The flow of two motions one after the other. Throws Error where sizes differ.
Flow composed(const Flow& first, const Flow& then);

// The flow at a place between pixels, bilinear, the edge repeated.
void flowAt(const Flow& flow, float x, float y, float& u, float& v);

}  // namespace jugendstil
