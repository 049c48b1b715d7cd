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

// The painting in its palette and laid over the photo, with opacity, blend mode and, where it is not empty, a
// mask of one channel. Both RGB of one size.
Image laidOver(const Image& photo, const Image& painting, const Image& shown, const PaintSettings& settings);

}  // namespace jugendstil
