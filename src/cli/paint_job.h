// SPDX-License-Identifier: Apache-2.0
// What one painting is to be made of, and where it goes.
#pragma once

#include <filesystem>
#include <optional>
#include <string>

#include "cli/run_options.h"
#include "paint/recipe.h"

namespace jugendstil::cli {

struct PaintJob : RunOptions {
  PaintRecipe recipe;  // inputs and settings; checksums of a recipe run again are compared
  std::filesystem::path output;
  std::filesystem::path layers;  // an OpenRaster file as well; empty: none
  std::filesystem::path chart;   // the loss's terms, drawn; empty: none
  // Set where it is known already what is painted (recipe.painting), and only how it is laid over the photo
  // is new: what it came to.
  std::optional<RecipeResult> earlier{};

  std::string shownOutput() const { return toPipe ? "standard output" : output.string(); }
};

}  // namespace jugendstil::cli
