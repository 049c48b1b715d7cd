// SPDX-License-Identifier: Apache-2.0
// Style as the second moments of a band's channels (Gatys, Ecker & Bethge 2016), centred.
#pragma once

#include <memory>

#include "style/band_statistics.h"
#include "style/measure.h"
#include "style/weighted_band.h"

namespace jugendstil {

// Of the part of the picture that the band's weights leave (Gatys, Ecker, Bethge, Hertzmann & Shechtman
// 2017).
std::unique_ptr<Measure> makeGram(const BandStatistics& target, WeightedBand band);

}  // namespace jugendstil
