// SPDX-License-Identifier: Apache-2.0
// Layout: what stands out against what, as one sees it from across the room.
#pragma once

#include <array>
#include <vector>

#include "image/image.h"
#include "image/planes.h"

namespace jugendstil {

// A drawing's layout, to which paintings are compared window by window (each some 5 % of the long edge, over
// planes softened to 100 to 200 values along it) by their correlation, as in the structure term of
// Wang, Bovik, Sheikh & Simoncelli 2004. What is lighter or warmer than what lies beside it is held; which
// colours and which contrast it has is left to the references. Windows count by the drawing's contrast in
// them: where it is calm, brush-work is free.
class LayoutTerm {
 public:
  // Opponent planes, whose sides are multiples of 16. `more` (1 channel of their size; empty: 1 everywhere)
  // says what each place counts beside others.
  explicit LayoutTerm(const Planes& drawing, const Image& more = {});

  // Near 0 where all windows agree, 1 where the picture (opponent planes of the drawing's size) has nothing
  // of them, near 2 where light and dark are turned round. Adds weight times the gradient.
  double evaluate(const Planes& picture, double weight, Planes& gradient) const;

 private:
  using Plane = std::vector<float>;
  using Triple = std::array<Plane, 3>;

  Triple softened(const Planes& planes) const;
  // Means under the window around each place.
  Plane meansOf(Plane plane) const;
  // Adds the gradient of what softened() made of a picture to the picture's.
  void addThroughSoftening(Plane slope, const Planes& picture, float scale, Plane& gradient) const;

  int halvings_;
  int width_;
  int height_;
  Plane perWindow_;  // 1 over the window's sum, which is less at the borders
  Triple values_;
  Triple means_;
  Plane variance_;  // in each window, of all planes together
  Plane counts_;    // what each window counts; 1 together
};

}  // namespace jugendstil
