// SPDX-License-Identifier: Apache-2.0
// Style as the distribution of a band's activations, along many directions (Heitz, Vanhoey, Chambon & Belcour
// 2021).
#pragma once

#include <cstdint>
#include <memory>
#include <span>

#include "style/band_statistics.h"
#include "style/measure.h"

namespace jugendstil {

// Fresh directions at each step, drawn by the seed. Weights as in makeMeasure(): positions of more than half
// of the largest are looked at, all alike.
std::unique_ptr<Measure> makeSliced(const BandStatistics& target, std::uint64_t seed,
                                    std::span<const float> weights);

}  // namespace jugendstil
