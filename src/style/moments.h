// SPDX-License-Identifier: Apache-2.0
// Style as the means and deviations of a band's channels (Li, Wang, Liu & Hou 2017).
#pragma once

#include <memory>

#include "style/band_statistics.h"
#include "style/measure.h"
#include "style/weighted_band.h"

namespace jugendstil {

// Of the part of the picture that the band's weights leave.
std::unique_ptr<Measure> makeMoments(const BandStatistics& target, WeightedBand band);

}  // namespace jugendstil
