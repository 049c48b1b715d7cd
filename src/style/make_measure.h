// SPDX-License-Identifier: Apache-2.0
// A measure of each kind.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "style/band_statistics.h"
#include "style/measure.h"

namespace jugendstil {

// What the picture is to be like in the band of these statistics. With weights, one for each position of the
// picture's band and not all of them 0, only what they weigh is looked at and moved (Gatys, Ecker, Bethge,
// Hertzmann & Shechtman 2017). All but `gram` and `moments` take the positions of more than half of the
// largest weight, all alike.
std::unique_ptr<Measure> makeMeasure(const BandStatistics& target, std::uint64_t seed,
                                     std::vector<float> weights = {});

}  // namespace jugendstil
