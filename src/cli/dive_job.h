// SPDX-License-Identifier: Apache-2.0
// One dive from files to files.
#pragma once

#include <filesystem>
#include <string>

#include "cli/run_options.h"
#include "dive/recipe.h"

namespace jugendstil::cli {

struct DiveJob : RunOptions {
  DiveRecipe recipe;
  std::string output;
};

// Makes the dive, and its recipe beside it. Returns 0, or 130 where Ctrl-C stopped it with all finished
// frames kept. Throws Error.
int runDiveJob(DiveJob job);

}  // namespace jugendstil::cli
