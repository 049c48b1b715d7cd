// SPDX-License-Identifier: Apache-2.0
// Style as a judge learns it: a small network is trained along the way to tell the references' activations
// from the picture's, and the picture is moved to be taken for a reference (Goodfellow et al. 2014; with
// squared errors, Mao et al. 2017).
#pragma once

#include <memory>
#include <span>

#include "style/band_statistics.h"
#include "style/measure.h"

namespace jugendstil {

// Mean squared error of the judge's verdicts on the picture (1 would be "a reference") less the same on the
// references: 1 where it tells them apart without fail, 0 where it cannot. It sees one position at a time,
// and learns once a step; a step that does not follow the last one begins with a fresh judge. The seed draws
// its first weights and the positions seen. Weights as in makeMeasure(): positions of more than half of the
// largest are looked at, all alike.
std::unique_ptr<Measure> makeCritic(const BandStatistics& target, std::uint64_t seed,
                                    std::span<const float> weights);

}  // namespace jugendstil
