// SPDX-License-Identifier: Apache-2.0
// A photo graded from file to file.
#pragma once

#include <filesystem>
#include <optional>
#include <vector>

#include "grade/grader.h"
#include "grade/match.h"

namespace jugendstil {

struct GradeInputs {
  std::vector<SharedStatistics> references;  // the look is matched to these, unless it is given
  std::optional<Look> look;
  MatchSettings match;
  LookAmounts amounts;
  LayerSettings layer;  // its mask upright; also weighs the photo's statistics
  ProfileChoice profile = ProfileChoice::keep;
  Encoding encoding;
};

struct GradeOutcome {
  Look look;  // as applied, amounts included
  int width = 0;
  int height = 0;
  // Reduced and upright, for figures; the result without its layer's mask.
  Image before;
  Image after;
  GradeStatistics statisticsBefore;
  GradeStatistics statisticsAfter;
};

// Statistics of a whole file. Throws as StoredPicture::read does. The mask is upright.
GradeStatistics fileStatistics(const std::filesystem::path& path,
                               const std::optional<Image>& mask = std::nullopt);

// Reads, matches, grades and writes. An empty target writes nothing (for saving the look alone). Where
// progress throws Stopped nothing is written. Throws Error.
GradeOutcome gradeFile(const std::filesystem::path& photo, const std::filesystem::path& target,
                       const GradeInputs& inputs, const RowProgress& progress = {});

}  // namespace jugendstil
