// SPDX-License-Identifier: Apache-2.0
// Whether a painting keeps the outlines of what its photo shows.
#pragma once

#include <vector>

#include "image/image.h"

namespace bench {

struct Outline {
  double area = 0;  // of the picture
  double kept = 0;  // part of its outline that lies where the photo has it, 0 to 1
};

// The photo's largest areas, at most ten, the largest first. Both pictures are RGB of one format; they are
// reduced to 320 pixels. Areas grow by minimum spanning trees (Felzenszwalb & Huttenlocher 2004). Their
// cores, all that is deeper inside than half their depth, then flood the painting's gradient (Meyer 1992):
// where floods meet, the painting has its outline. Of the photo's, what has it within 1 % of the long edge
// is kept.
std::vector<Outline> outlinesKept(const jugendstil::Image& photo, const jugendstil::Image& painting);

}  // namespace bench
