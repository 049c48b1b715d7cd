// SPDX-License-Identifier: Apache-2.0
// Making pictures smaller and larger. Our own, because a result must be the same to the byte for any number
// of threads, in float, for any number of channels.
#pragma once

#include "image/image.h"

namespace jugendstil {

// Resizes values as they stand. Where an axis shrinks, each new sample is the exact average over the area
// that it covers; where it grows, Catmull-Rom cubic interpolation (Catmull & Rom 1974) with the edge
// repeated. Throws Error for a size below 1.
Image resample(const Image& image, int width, int height);

// resample() of display-encoded photographs in linear light; alpha weighs the colours. Results of cubic
// interpolation are clipped to the range [0, 1] where the input lies in it.
Image resizePhoto(const Image& encoded, int width, int height);

// Each pixel the mean of factor x factor, of the values as they are; what is left over at the right and below
// is left out. Much faster than resample(), for what is only looked at.
Image boxReduced(const Image& image, int factor);

struct Size {
  int width = 0;
  int height = 0;
};

// The size with the given longer side and, to rounding, the same aspect ratio; each side at least 1.
Size sizeForLongEdge(int width, int height, int longEdge);

}  // namespace jugendstil
