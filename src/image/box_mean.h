// SPDX-License-Identifier: Apache-2.0
// Means over squares.
#pragma once

#include <vector>

namespace jugendstil {

// The mean over the square of 2 * radius + 1 values a side around each value of a plane (width * height, row
// by row), cut at the plane's edges. Sums are taken in double precision.
std::vector<float> boxMeans(const std::vector<float>& plane, int width, int height, int radius);

}  // namespace jugendstil
