// SPDX-License-Identifier: Apache-2.0
// The bands that are asked for, in a network that has them.
#pragma once

#include <cstddef>
#include <vector>

#include "amplify/drive.h"
#include "amplify/settings.h"
#include "image/image.h"
#include "network/chain.h"
#include "paint/basis.h"
#include "paint/level.h"

namespace jugendstil {

struct ChosenBand {
  std::size_t band = 0;  // into chain.bands
  double weight = 1;     // of all together, which is 1
};

// Throws UsageError for bands that the network does not have; the nearest is offered.
std::vector<ChosenBand> chosenBands(const Chain& chain, const BandWeights& bands);

// The size of the smallest patterns that a band makes, in pixels: about half of what a position sees; and of
// several bands the largest one.
double smallestPattern(const Band& band);
double smallestPattern(const Chain& chain, const std::vector<ChosenBand>& bands);

// What is strengthened in a photo of the level's picture size: the settings' bands and channels, and the
// patterns of references.
std::vector<BandDrive> drivesAt(const Chain& chain, const std::vector<PaintReference>& towards,
                                const AmplifySettings& settings, const LevelPlan& level, const Image& photo);

}  // namespace jugendstil
