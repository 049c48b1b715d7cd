// SPDX-License-Identifier: Apache-2.0
// Style by likeness of patches: each patch of the picture's band is drawn to the references' patch most like
// it (Li & Wand 2016).
#pragma once

#include <memory>
#include <span>

#include "style/band_statistics.h"
#include "style/measure.h"

namespace jugendstil {

// Mean over 3 x 3 patches of the squared distance to their matches, divided by twice the references' own
// variance. Patches are matched by normalised cross-correlation about the references' mean, again after every
// few steps; in between they follow the matches they have. Weights as in makeMeasure(): positions of more
// than half of the largest are looked at, all alike.
std::unique_ptr<Measure> makeNeighbours(const BandStatistics& target, std::span<const float> weights);

}  // namespace jugendstil
