// SPDX-License-Identifier: Apache-2.0
// Lines: those of a photo, and those somebody drew.
#pragma once

#include "image/image.h"

namespace jugendstil {

// Where a draughtsman would draw a line in a photo (RGB): 1 channel of its size, 0 (none) to 1, lines dark or
// light in the photo alike where they part areas, dark ones where they are lines themselves. A difference of
// Gaussians gathered along the lines' own direction (Kang, Lee & Chui 2007; Winnemoeller, Kyprianidis & Olsen
// 2012), over a photo smoothed as far as its edges (Tomasi & Manduchi 1998). As wide as a 500th of the long
// edge.
Image contoursOf(const Image& photo);

// The same of a drawing in dark ink on light or no paper (RGB or RGBA).
Image inkOfDrawing(const Image& drawing);

}  // namespace jugendstil
