// SPDX-License-Identifier: Apache-2.0
// What is done to a painting when it is painted.
#pragma once

#include "image/image.h"
#include "paint/settings.h"

namespace jugendstil {

// The painting with the photo's chroma, lightness or hue put back where the palette asks for that (in Oklab;
// what leaves sRGB is brought back by its chroma); as it is for the palettes that are painted with. Both RGB
// of one size.
Image inPalette(const Image& photo, const Image& painting, Palette palette);

}  // namespace jugendstil
