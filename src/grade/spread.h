// SPDX-License-Identifier: Apache-2.0
// Matching the whole distribution of colour, with its grain kept down.
#pragma once

#include <array>
#include <vector>

#include "grade/colour_table.h"
#include "grade/statistics.h"

namespace jugendstil {

// The slope of whole colour maps, at most, where skies are (a mean of RGB of kSlopesFrom and more).
inline constexpr double kMostStep = 1.72;
inline constexpr double kSlopesFrom = 0.2;

// Changes a map so that it carries the samples at display colours `at` to the references' whole distribution,
// as far as a smooth map can: iterated one-dimensional transport along random axes (Pitié, Kokaram & Dahyot
// 2007), each round's movement smoothed over the cube, so that neighbouring colours move together, and its
// slopes limited. Several references: along each axis the share-weighted mean of their quantiles (the sliced
// barycentre of Rabin, Peyré, Delon & Bernot 2012). Without `lightness` only Oklab's a and b are carried. The
// same input gives the same map.
void spreadColours(ColourTable& map, const std::vector<std::array<float, 3>>& at,
                   const std::vector<SharedStatistics>& references, bool lightness);

}  // namespace jugendstil
