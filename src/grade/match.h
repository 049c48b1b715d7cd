// SPDX-License-Identifier: Apache-2.0
// The look that carries one picture's tone, colour and local contrast to others'.
#pragma once

#include <vector>

#include "grade/chroma.h"
#include "grade/look.h"
#include "grade/statistics.h"

namespace jugendstil {

struct MatchSettings {
  bool tone = true;
  bool colour = true;
  bool detail = true;
  GradeMethod method = GradeMethod::covariance;
};

// Tone first, then colour as it stands after the tone, each by its own page (tone.h, chroma.h, spread.h).
// What the look's plain numbers do not say of the map goes into its residual table, so the look is the map.
// The same statistics give the same look. Throws UsageError without references or where nothing shall be
// matched.
Look matchLook(const GradeStatistics& photo, const std::vector<SharedStatistics>& references,
               const MatchSettings& settings);

}  // namespace jugendstil
