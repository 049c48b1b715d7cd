// SPDX-License-Identifier: Apache-2.0
// Grading photos from files to files, alone or as a set.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "cli/options.h"
#include "cli/run_options.h"
#include "grade/grade_file.h"

namespace jugendstil::cli {

struct GradeJob : RunOptions {
  std::vector<std::filesystem::path> photos;
  std::vector<std::filesystem::path> outputs;  // one a photo; empty where only a look is saved
  std::vector<ReferenceWord> references;
  GradeInputs inputs;  // without the references' statistics
  bool together = false;
  std::filesystem::path saveLook;  // empty: not saved
  std::filesystem::path chart;
  int threads = 0;
};

// Seconds that the job will take, by reading and measuring the first photo. Throws Error.
double foretoldSeconds(const GradeJob& job);

// Returns 0, 1 where photos failed (the others are done), 130 where Ctrl-C stopped it. Throws Error.
int runGradeJob(GradeJob job);

}  // namespace jugendstil::cli
