// SPDX-License-Identifier: Apache-2.0
// The files of a dive read, and what its time is foretold by.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "dive/dive.h"
#include "dive/plan.h"
#include "dive/recipe.h"

namespace jugendstil::cli {

struct DiveFiles {
  Chain chain;
  std::vector<std::unique_ptr<QuickPainter>> painters;
  DiveInputs inputs;  // which points to these
};

// Reads the recipe's files and fills in their checksums.
void readDive(DiveRecipe& recipe, const std::string& output, bool quiet, DiveFiles& files);

// All that the frames depend on, as text.
std::string diveMaking(const DiveRecipe& recipe, const std::string& output);

struct DiveTime {
  double seconds = 0;
  bool known = false;  // from earlier dives on this machine
};
DiveTime diveTime(const DiveRecipe& recipe, const DiveFiles& files, const DivePlan& plan);
void learnDiveTime(const DiveRecipe& recipe, const DiveFiles& files, const DivePlan& plan, double seconds);

}  // namespace jugendstil::cli
