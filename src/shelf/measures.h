// SPDX-License-Identifier: Apache-2.0
// A picture in a few numbers, by which pictures are found that are like it, or that suit it.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "image/image.h"
#include "image/oklab.h"

namespace jugendstil {

// Pictures are measured at this long edge, so that sizes are parts of the picture.
inline constexpr int kShelfEdge = 256;

struct PaletteColour {
  Oklab colour;
  float share = 0;
};

inline constexpr int kPaletteColours = 8;
inline constexpr int kToneSteps = 17;
inline constexpr int kDetailSizes = 6;
inline constexpr int kAreas = 12;

// What a part of the picture looks like; all of about 0 to 1.
struct AreaLook {
  float lightness = 0;
  float a = 0;
  float b = 0;
  float fine = 0;   // root mean square of detail up to 1/64 of the picture
  float broad = 0;  // and of what is larger, up to 1/8
  float share = 0;  // of the picture
};

struct PictureMeasures {
  std::array<PaletteColour, kPaletteColours> palette{};  // the largest share first
  std::array<float, kToneSteps> tones{};                 // lightness that each 16th of the pixels stays below
  std::array<float, kDetailSizes> detail{};  // root mean square by size: 1, 2, 4 ... 32 pixels of 256
  std::array<AreaLook, kAreas> areas{};
};

// Of an RGB picture in display sRGB, any size. The same picture gives the same numbers.
PictureMeasures measuresOf(const Image& picture);

// As bytes for a file, and back; none where they are of another length.
std::string measureBytes(const PictureMeasures& measures);
std::optional<PictureMeasures> measuresIn(std::string_view bytes);

// How far two pictures' palettes are apart in Oklab, each colour from the nearest of the other; and their
// tones.
double coloursApart(const PictureMeasures& a, const PictureMeasures& b);
double tonesApart(const PictureMeasures& a, const PictureMeasures& b);

// How far two pictures are from one another in colours, tones and size of detail: 0 the same, about 1 for
// pictures that have nothing in common.
double difference(const PictureMeasures& a, const PictureMeasures& b);

// How much of it has about this colour, 0 to 1.
double shareOf(const Oklab& colour, const PictureMeasures& measures);

}  // namespace jugendstil
