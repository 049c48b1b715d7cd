// SPDX-License-Identifier: Apache-2.0
// Painting with a net that has learned a reference.
#pragma once

#include <vector>

#include "image/image.h"
#include "image/resample.h"
#include "learn/net.h"
#include "learn/net_pass.h"

namespace jugendstil {

// A piece that is learned on goes on by so many pixels into a margin, which takes the zeros around
// convolutions and is not judged.
inline constexpr int kPieceMargin = 16;

// Paints pictures of one size. They continue by reflection into a margin three times as wide, which is cut
// off: just inside a margin of the same width, or of twice that, a painter still feels the zeros, and paints
// a strip along the edge.
class QuickPainting {
 public:
  // The net must live as long. Throws Error where it is not sound or memory runs out.
  QuickPainting(const Net& net, Size picture);

  // RGB, display-encoded, of that size; so is what it gives, in [0, 1]. Throws Error for a larger one.
  Image paint(const Image& photo);

  // As NetPass has them.
  const std::vector<float>& moments() const { return pass_.moments(); }
  void holdMoments(std::vector<float> moments) { pass_.holdMoments(std::move(moments)); }

 private:
  NetPass pass_;
};

// Display-encoded RGB as planes about 0, and back, clipped to [0, 1].
Planes centredPlanes(const Image& rgb);
Image imageOfCentred(const Planes& planes);

}  // namespace jugendstil
