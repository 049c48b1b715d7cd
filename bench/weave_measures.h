// SPDX-License-Identifier: Apache-2.0
// What a woven piece is measured by.
#pragma once

#include "network/chain.h"
#include "weave/grow.h"

namespace bench {

// The highest peak of a picture's autocorrelation (of luma, 1 at the centre): the highest shift above all
// eight around it, of those farther than `least` and up to `most` pixels either way.
double highestPeak(const jugendstil::Image& picture, int least, int most);

// How many squares of 32 pixels a side show a place of the swatch that another one shows, whole, within the
// swatch's edge.
std::size_t repeatedPieces(const jugendstil::Grown& grown);

// How often the most used hundredth of the swatch's places (8 x 8) is used, against the mean.
double mostUsed(const jugendstil::Grown& grown);

// Gradient energy across the joins, as a ratio to what the swatch has at the same places. `edge` counts only
// those across the repeating edges.
double energyAtJoins(const jugendstil::Grown& grown, const jugendstil::Image& picture,
                     const jugendstil::Image& swatch, bool edge);

// The largest over the style bands of the piece's distance from the swatch against that between the swatch's
// halves; distances are of `gram`.
double styleRatio(const jugendstil::Chain& chain, const jugendstil::Image& picture,
                  const jugendstil::Image& swatch);

}  // namespace bench
