// SPDX-License-Identifier: Apache-2.0
// A look: a change of colour and tone that can be read, edited, mixed and carried to other programs.
#pragma once

#include <array>
#include <string>
#include <utility>
#include <vector>

#include "grade/chroma.h"
#include "grade/colour_table.h"

namespace jugendstil {

// Applied in this order. The default changes nothing.
struct Look {
  std::string name;
  // Tone, on code values of lightness.
  double exposure = 0;  // EV of linear light; where it brightens, lights roll off so that white stays white
  std::vector<std::pair<float, float>> curve{{0.0F, 0.0F}, {1.0F, 1.0F}};  // from black to white, both 0 to 1
  double black = 0;                                                        // where the curve's 0 comes out
  double white = 1;                                                        // where its 1 comes out
  // Colour, in Oklab.
  double saturation = 1;                                  // factor of chroma
  std::array<std::array<double, 2>, kToneRanges> cast{};  // (a, b) added in shadows, mid-tones, lights
  // Local contrast: factors of the fine, medium and broad detail band. Not part of the colour map.
  std::array<double, 3> detail{1, 1, 1};
  // What all this leaves, in display RGB, added at the end; size 0 for none.
  ColourTable residual;

  bool changesDetail() const;
};

// What the look makes of one display-encoded colour in [0, 1]; the result lies in [0, 1].
std::array<float, 3> lookColour(const Look& look, const std::array<float, 3>& rgb);

// The tone part alone: code value to code value.
float lookTone(const Look& look, float tone);
// Its slope.
float lookToneSlope(const Look& look, float tone);

// A display-encoded colour after the tone part alone; chroma follows lightness. Not yet fitted into sRGB.
Oklab tonedByLook(const Look& look, const std::array<float, 3>& rgb);

// The colour map of a look is a table of this many points a side, interpolated; so what is exported is what
// is applied. An imported table that is finer keeps its detail at the second size.
inline constexpr int kLookSide = 33;
inline constexpr int kFineLookSide = 65;
ColourTable lookTable(const Look& look);

// From `a` (by = 0) to `b` (by = 1), each number and the whole curve in proportion; beyond is allowed where
// the result stays in range. The name is a's.
Look mixedLook(const Look& a, const Look& b, double by);

// How much of a look is taken, by stage; 1 is all.
struct LookAmounts {
  double tone = 1;
  double colour = 1;
  double detail = 1;
};
Look partOfLook(const Look& look, const LookAmounts& amounts);

// What the look does as a photographer would say it, one remark each: "lifts the blacks by 4 %",
// "saturation -18 %", "warms the lights". Never empty.
std::vector<std::string> lookInWords(const Look& look);

}  // namespace jugendstil
