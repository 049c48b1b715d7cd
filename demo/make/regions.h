// SPDX-License-Identifier: Apache-2.0
// What the makers of flat-cut pictures share: where a region ends.
#pragma once

#include <vector>

namespace demo {

// Chamfer distance in pixels of each pixel to the nearest contour between regions, good enough to lay courses
// of tesserae and dark edges of washes by. `region` holds w*h numbers, row by row.
std::vector<float> distanceToContour(const std::vector<int>& region, int w, int h);

}  // namespace demo
