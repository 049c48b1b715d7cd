// SPDX-License-Identifier: Apache-2.0
// Masks: pictures of one channel, 1 where something counts and 0 where it does not.
#pragma once

#include <array>
#include <filesystem>
#include <string_view>

#include "image/image.h"

namespace jugendstil {

// --- Made from a photo; display-encoded sRGB, RGB or RGBA.

// Where the tone lies between `from` and `to`: Oklab lightness from 0 (black) to 100 (white). Soft over
// `soft` beyond each end.
Image maskOfTones(const Image& photo, double from, double to, double soft);

// Where the colour is within `within` of one of sRGB: distance in Oklab times 100, of which 2 is just seen
// and 100 lies between black and white. Soft over a third of it beyond.
Image maskOfColour(const Image& photo, const std::array<float, 3>& colour, double within);

// The picture's transparency. Throws Error where it has none.
Image maskOfAlpha(const Image& picture);

struct MaskBox {
  double x = 0;
  double y = 0;
  double width = 0;
  double height = 0;
};

// The thing inside a box of the photo's pixels, by graph cuts over its colours and those around it (Rother,
// Kolmogorov & Blake 2004). Throws Error: box outside the photo, with nothing around it, or nothing found.
Image maskInBox(const Image& photo, const MaskBox& box);

// An SVG drawing whose strokes and fills count as white, as opaque as they are drawn, on a page laid over the
// whole picture; pictures placed on the page, to trace over, do not count. Throws Error: not SVG, nothing
// drawn, a page of another format than the picture.
Image maskOfDrawing(std::string_view svg, int width, int height);

// --- From files.

// A grey picture (a coloured one by its lightness, a transparent one over black), or an SVG drawing for a
// picture of that size. Throws Error.
Image readMask(const std::filesystem::path& path, int width, int height);

// The same, and Error where it has not the format of that picture: it was made for another one.
Image readMaskFor(const std::filesystem::path& path, int width, int height);

// That Error by itself.
void requireFormat(const std::filesystem::path& path, const Image& mask, int width, int height);

// --- Together, of one size; Error where they differ.

Image bothOf(const Image& a, const Image& b);     // where both count
Image eitherOf(const Image& a, const Image& b);   // where one of them counts
Image withoutOf(const Image& a, const Image& b);  // where the first counts and the second does not
Image inverted(Image mask);

// --- Edges.

// Larger by so many pixels all round, smaller for negative ones; soft edges stay as soft as they are.
Image grown(const Image& mask, int pixels);

// Softened over about so many pixels to each side of its edge.
Image feathered(const Image& mask, double pixels);

// Another size; stays in [0, 1].
Image resizedMask(const Image& mask, int width, int height);

// The mean of all values: how much of the picture counts.
double coverage(const Image& mask);

// --- To look at.

// The photo with what does not count veiled in grey and the mask's edge drawn in red.
Image maskOver(const Image& photo, const Image& mask);

}  // namespace jugendstil
