// SPDX-License-Identifier: Apache-2.0
// One piece woven from files to files.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "cli/run_options.h"
#include "weave/recipe.h"

namespace jugendstil::cli {

struct WeaveJob : RunOptions {
  WeaveRecipe recipe;  // inputs and settings; checksums of a recipe run again are compared
  std::filesystem::path output;
  std::vector<std::string> vary;  // like "seed=1,2,3": then the output is a folder

  std::string shownOutput() const { return toPipe ? "standard output" : output.string(); }
};

// What the result is called like: the photo along which it is woven, the picture that is filled, or the first
// swatch.
const RecipeInput& namedAfter(const WeaveRecipe& recipe);

// Seconds that a piece of so many pixels takes, by earlier ones on this machine.
double weaveSecondsFor(double pixels, int threads);

// Weaves, writes the piece and the recipe beside it, and says where; of several, into the folder, with a
// sheet of all. Returns 0. Throws Error, and Stopped where Ctrl-C asked for it.
int runWeaveJob(const WeaveJob& job);

}  // namespace jugendstil::cli
