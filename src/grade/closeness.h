// SPDX-License-Identifier: Apache-2.0
// How near two pictures are in colour, as numbers.
#pragma once

#include <vector>

#include "image/cielab.h"
#include "image/oklab.h"

namespace jugendstil {

// Sliced 2-Wasserstein distance between two sets of colours in Oklab: the root mean square, over 64 fixed
// directions, of the one-dimensional distances (Bonneel, Rabin, Peyré & Pfister 2015).
double slicedDistance(const std::vector<Oklab>& a, const std::vector<Oklab>& b);

CieLab cieLabOf(const Oklab& colour);

// CIEDE2000 (ISO/CIE 11664-6; Sharma, Wu & Dalal 2005), by LittleCMS.
double ciede2000(const CieLab& first, const CieLab& second);

// Mean CIEDE2000 between matched quantiles: L*, a* and b* of both sets are sorted each by itself, and the
// triples at 99 equal ranks compared.
double quantileDistance(const std::vector<Oklab>& a, const std::vector<Oklab>& b);

// How far a photo was from its references and how far its graded copy is, by both measures.
struct Closeness {
  double slicedBefore = 0;
  double slicedAfter = 0;
  double ciedeBefore = 0;
  double ciedeAfter = 0;
};

}  // namespace jugendstil
