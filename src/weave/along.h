// SPDX-License-Identifier: Apache-2.0
// A picture woven of references' own patches along a drawing.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "image/image.h"

namespace jugendstil {

struct AlongInputs {
  // RGB, display-encoded, in the size that their strokes are to have in the picture; at least 32 pixels a
  // side.
  std::vector<Image> references;
  Image drawing;         // RGB, display-encoded, in the references' colours
  double likeness = 50;  // 0 to 100: how much the drawing counts against whole strokes
  std::uint64_t seed = 1;
};

// The picture, of the drawing's size: every pixel is one of a reference's own, but where two go over into
// each other at a join. Large blocks are laid first, coarse, and smaller ones over them where the drawing
// asks for it (follow.h); joins are mended in every size. So strokes are whole where the drawing is calm, and
// the drawing is followed where there is one. The same bytes for any number of threads. Progress is told from
// 0 to 1 and may throw Stopped.
//
// Elad & Milanfar 2017, "Style transfer via texture synthesis"; Frigo, Sabater, Delon & Hellier 2016, "Split
// and match: example-based adaptive patch sampling for unsupervised style transfer".
Image wovenAlong(const AlongInputs& inputs, const std::function<void(double)>& progress);

}  // namespace jugendstil
