// SPDX-License-Identifier: Apache-2.0
// The linear Monge-Kantorovich map of colour (Pitié & Kokaram 2007): the affine map of least movement
// that gives one distribution the mean and covariance of another.
#pragma once

#include <array>

#include "image/image.h"

namespace jugendstil {

struct ColourStatistics {
  std::array<double, 3> mean{};
  std::array<std::array<double, 3>, 3> covariance{};
  double weight = 0;  // share of what was pooled so far
};

// Of all pixels of an RGB(A) picture, in the values as they stand.
ColourStatistics colourStatistics(const Image& image);

// The statistics of two pictures' mixture in the given relative weights, spread between their means included.
ColourStatistics pooled(const ColourStatistics& a, const ColourStatistics& b);

struct AffineColourMap {
  std::array<std::array<double, 3>, 3> matrix{};
  std::array<double, 3> offset{};
};

// Throws Error where a statistic is not a number. Distributions without spread in some direction are
// given a little, so that the map stays bounded: it scales no direction by more than mostGain.
AffineColourMap mongeKantorovich(const ColourStatistics& from, const ColourStatistics& to,
                                 double mostGain = 4);

// Alpha is left alone; values may leave [0, 1].
Image recoloured(const Image& image, const AffineColourMap& map);

}  // namespace jugendstil
