// SPDX-License-Identifier: Apache-2.0
// Bringing colours back into sRGB without flattening them.
#pragma once

#include <array>

#include "image/oklab.h"

namespace jugendstil {

// Display-encoded sRGB in [0, 1] of a colour that came from `source` (itself displayable): lightness is
// clamped, hue kept, and chroma beyond what sRGB shows there is compressed, softly, so that different colours
// stay different. A colour no nearer to the border, in relation to it, than its source is left as it is.
std::array<float, 3> fittedDisplay(const Oklab& colour, const Oklab& source);

}  // namespace jugendstil
