// SPDX-License-Identifier: Apache-2.0
// A photo graded from file to file.
#pragma once

#include <filesystem>
#include <optional>
#include <vector>

#include "grade/grader.h"
#include "grade/match.h"
#include "grade/settings.h"

namespace jugendstil {

// Pixels that are graded alike: the look is matched to the references, unless it is given.
struct GradeTarget {
  std::vector<SharedStatistics> references;
  std::optional<Look> look;
  bool empty() const { return references.empty() && !look; }
};

// What is graded otherwise than the rest: where its mask is white (first channel, upright, any size).
struct GradePart {
  Image mask;
  GradeTarget target;
};

struct GradeInputs {
  GradeTarget rest;              // what no part covers; empty: it stays as it is
  std::vector<GradePart> parts;  // where masks overlap, the later one lies above
  std::optional<Image> mask;     // upright; weighs the photo's statistics, too
  GradeSettings settings;
};

// Statistics of the rest of a photo (without samples where nothing of it is left, or where it stays as it
// is), and of each part.
struct PhotoStatistics {
  GradeStatistics rest;
  std::vector<GradeStatistics> parts;
};

struct GradeOutcome {
  // As applied, amounts included; the rest's changes nothing where the rest stays as it is.
  Look look;
  std::vector<Look> partLooks;
  int width = 0;
  int height = 0;
  bool profileLeftOut = false;  // StripWriter
  // Reduced and upright, for figures; the result without its layer's mask.
  Image before;
  Image after;
  // Of the rest, or of the first part where only parts are graded.
  GradeStatistics statisticsBefore;
  GradeStatistics statisticsAfter;
};

// Statistics of a whole file. Throws as StoredPicture::read does.
GradeStatistics fileStatistics(const std::filesystem::path& path);

// The same of what is graded alike. Throws Error, also where a mask leaves nothing.
PhotoStatistics photoStatistics(const std::filesystem::path& path, const GradeInputs& inputs);

// Reads, matches, grades and writes. An empty target writes nothing (for saving the look alone). Where
// progress throws Stopped nothing is written. Throws Error.
GradeOutcome gradeFile(const std::filesystem::path& photo, const std::filesystem::path& target,
                       const GradeInputs& inputs, const RowProgress& progress = {});

}  // namespace jugendstil
