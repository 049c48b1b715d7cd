// SPDX-License-Identifier: Apache-2.0
// Which of several swatches lies where.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "image/image.h"
#include "weave/woven.h"

namespace jugendstil {

// How several swatches lie beside each other: in patches with joins of their own, or going over softly.
enum class Mix { apart, blended };

// A grey picture that drifts from black to white in patches about `patch` pixels wide, all tones equally
// often; where a piece repeats, so does it. (Value noise, two octaves.)
Image driftingTones(int width, int height, Repeats repeats, double patch, std::uint64_t seed);

// How much of each swatch lies at each pixel, one picture of one channel a swatch, together 1. A grey map's
// blacks are the first swatch and its whites the last, each with as wide a range of tones as its share; the
// change between two takes `soft` of the whole range (0: at once).
std::vector<Image> sharesOver(const Image& grey, const std::vector<double>& shares, double soft);

// Pictures of one size that go over into each other by such shares: of two that meet, what is light stands
// before what is dark, as stones stand out of moss, so that each thing is of one picture or of the other; the
// tones under it go over widely (Burt & Adelson 1983, "A multiresolution spline with application to image
// mosaics").
Image blended(const std::vector<Image>& pictures, const std::vector<Image>& shares);

// The colour that stands for a swatch in a layout of swatches.
inline constexpr int kMostSwatches = 8;
std::array<float, 3> signOf(int swatch);

// The layout in these colours of who has the largest share.
Image layoutOf(const std::vector<Image>& shares);

}  // namespace jugendstil
