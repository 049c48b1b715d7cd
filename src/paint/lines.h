// SPDX-License-Identifier: Apache-2.0
// Lines drawn over a painting in ink.
#pragma once

#include <array>
#include <vector>

#include "paint/regions.h"

namespace jugendstil {

// The ink (RGB) for what is painted after references: the mean of the darkest 50th of their pixels; where the
// palette is not theirs, nearly black.
std::array<float, 3> inkFor(const std::vector<PaintReference>& references, Palette palette);

// Where lines lie over a picture of the photo's size: the photo's own contours (image/contours.h; RGB), or
// those that were drawn instead, inside the mask where there is one. 1 channel.
Image linesOver(const Image& photo, const Image& drawn, const Image& inside);

// The painting (RGB) with its lines as strong as asked, 0 to 1, each region's in its own ink.
Image withLines(Image painting, const Image& lines, double strength, const std::vector<Region>& regions,
                Palette palette);

// The same in one ink.
Image withLines(Image painting, const Image& lines, double strength, const std::array<float, 3>& ink);

}  // namespace jugendstil
