// SPDX-License-Identifier: Apache-2.0
// One photo amplified from files to files.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "amplify/recipe.h"
#include "cli/run_options.h"

namespace jugendstil::cli {

struct AmplifyJob : RunOptions {
  AmplifyRecipe recipe;  // inputs and settings; checksums of a recipe run again are compared
  std::filesystem::path output;
  std::vector<std::string> vary;  // like "band=small,broad": then the output is a folder

  std::string shownOutput() const { return toPipe ? "standard output" : output.string(); }
};

// Reads the files, tells what it will take, amplifies with progress and writes result and recipe. Returns the
// exit code.
int runAmplifyJob(const AmplifyJob& job);

// All bands of the network with patterns of three sizes, small, on one sheet: the output. There is no recipe;
// each caption says what to give for the whole.
int runAmplifySurvey(const AmplifyJob& job);

}  // namespace jugendstil::cli
