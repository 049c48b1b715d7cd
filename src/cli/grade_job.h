// SPDX-License-Identifier: Apache-2.0
// Grading photos from files to files, alone or as a set.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "cli/options.h"
#include "cli/run_options.h"
#include "grade/grade_file.h"
#include "grade/recipe.h"

namespace jugendstil::cli {

struct GradeJob : RunOptions {
  GradeRecipe recipe;  // inputs and settings; checksums of a recipe run again are compared
  std::vector<std::filesystem::path> outputs;  // one a photo; empty where only a look is saved
  bool series = false;                         // several photos, with one recipe for all of them
  std::filesystem::path saveLook;              // empty: not saved
  std::filesystem::path chart;

  bool graded() const { return !outputs.empty(); }
};

// Seconds that the job will take, by reading and measuring the first photo. Throws Error.
double foretoldSeconds(const GradeJob& job);

// Grades, and writes the recipe beside the results. Returns 0, 1 where photos failed (the others are done),
// 130 where Ctrl-C stopped it. Throws Error.
int runGradeJob(GradeJob job);

}  // namespace jugendstil::cli
