// SPDX-License-Identifier: Apache-2.0
// Whether a painting keeps the outlines of what its photo shows.
#pragma once

#include <vector>

#include "image/image.h"

namespace bench {

struct Outline {
  double area = 0;  // of the picture
  double kept = 0;  // part of its clear outline that lies where the photo has it, 0 to 1
};

// The photo's ten main areas, the largest first. Both pictures are RGB of one format; they are reduced to 320
// pixels. Areas grow by minimum spanning trees (Felzenszwalb & Huttenlocher 2004) and are joined until ten
// are left, those first whose border is worth least (Koepfler, Lopez & Morel 1994). Along each outline, where
// the photo's strongest step across it, of all within 5 % of the long edge, lies within 1 % of it, it is
// asked whether the painting's does. Noise keeps a fifth.
std::vector<Outline> outlinesKept(const jugendstil::Image& photo, const jugendstil::Image& painting);

}  // namespace bench
