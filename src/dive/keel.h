// SPDX-License-Identifier: Apache-2.0
// What stays as it is while a picture changes without end: how light it is, how strong its colours are, how
// much detail of each size it has. Each frame of a dive is made from the one before, and without a keel a
// little too much in each becomes black, white or noise within a hundred of them.
#pragma once

#include <array>
#include <vector>

#include "image/image.h"
#include "paint/pyramid.h"

namespace jugendstil {

inline constexpr int kTones = 33;

struct Keel {
  double lightness = 0;  // mean, in Oklab
  double chroma = 0;     // mean, in Oklab
  double vivid = 0;      // chroma that a hundredth of the pixels exceeds
  // Lightness without detail that each 32nd of the pixels stays below, from the darkest.
  std::array<double, kTones> tones{};
  // Mean squares of the pyramid's levels from the finest, of the coarsest one about its mean: of lightness,
  // and of the two planes of colour together.
  std::array<double, Pyramid::kLevels> detail{};
  std::array<double, Pyramid::kLevels> colourDetail{};
  double gradient = 0;  // mean square of luma's
};

// Of an RGB picture in [0, 1].
Keel keelOf(const Image& picture);

// detail[0] of it alone.
double finestDetail(const Image& picture);

// Between two, by part 0 to 1; the second where what was added to a picture grows by its strength: what it
// adds in mean squares then grows by the strength's square.
Keel between(const Keel& a, const Keel& b, double part);
Keel betweenStrengths(const Keel& none, const Keel& full, double part);

// The picture with these: detail by a gain for each size, bounded, so that what is far off comes back over
// several frames; grain that 8 bits alone would make is not raised. Then part of the way to its tones, so
// that neither black nor white spreads; lightness along a curve that leaves black and white where they are;
// chroma by a factor, and half of what is too vivid taken back. RGB in [0, 1].
Image onKeel(const Image& picture, const Keel& wanted);

// What a picture's detail of lightness, all sizes at once, and its colours are multiplied by.
struct Lift {
  double detail = 1;
  double chroma = 1;
};

// To have the gradient and the chroma that these have: 2/3 to 3/2, and 4/5 to 5/4.
Lift liftOf(const Image& picture, const Keel& wanted);

// RGB in [0, 1].
Image lifted(const Image& picture, const Lift& by);

// What a dive is held to: the start as it is, and made in full as each of its keys says.
struct Keels {
  Keel none;
  std::vector<Keel> full;
};

}  // namespace jugendstil
