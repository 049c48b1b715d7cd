// SPDX-License-Identifier: Apache-2.0
// The file beside graded photos that grades them again.
#pragma once

#include <array>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "grade/settings.h"
#include "recipe/recipe_input.h"

namespace jugendstil {

struct GradedPhoto {
  RecipeInput photo;
  std::string result;  // file name beside the recipe
};

struct GradeRecipeResult {
  std::string version;
  bool finished = true;
  int graded = 0;  // photos
  double seconds = 0;
  // How far the colours lie from the references' (CIEDE2000), before and after; of single photos.
  std::optional<std::array<double, 2>> distance;
};

struct GradeRecipe {
  std::vector<GradedPhoto> photos;
  std::vector<RecipeInput> references;
  std::optional<RecipeInput> look;  // instead of references
  std::vector<RecipePart> parts;    // each after a picture or by a look's file
  std::optional<RecipeMask> mask;
  GradeSettings settings;
  std::vector<std::string> given;  // names of the settings that the text holds
  std::optional<GradeRecipeResult> result;
};

// TOML with every setting. Paths are written relative to the folder where they lie in or near it.
std::string gradeRecipeText(const GradeRecipe& recipe, const std::filesystem::path& folder);

// Throws UsageError with file, line and column, as parsePaintRecipe does. Everything may be missing.
GradeRecipe parseGradeRecipe(std::string_view text, const std::filesystem::path& file);

// All settings; those that were not as usual can be told.
std::vector<SettingText> settingsOf(const GradeRecipe& recipe);

}  // namespace jugendstil
