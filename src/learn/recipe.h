// SPDX-License-Identifier: Apache-2.0
// The file beside a quick painter that learns it again, and goes on where learning was stopped.
#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "learn/settings.h"
#include "recipe/recipe_input.h"

namespace jugendstil {

// A photo, or a frame of the clip, with what somebody has painted over it.
struct ShownInput {
  std::int64_t frame = 0;  // of the clip, where there is no photo
  std::optional<RecipeInput> photo;
  RecipeInput painting;
};

struct LearnRecipeResult {
  std::string version;
  bool finished = true;
  int steps = 0;
  double seconds = 0;
  double style = 0;  // means over the last steps
  double content = 0;
};

struct LearnRecipe {
  std::string painter;  // file name of the result, beside the recipe
  std::vector<RecipeInput> references;
  std::vector<RecipeInput> photos;  // to learn on: these,
  std::optional<RecipeInput> clip;  // or a clip; its checksum is of the ends only
  std::vector<ShownInput> shown;
  std::optional<RecipeInput> network;
  LearnSettings settings;
  std::vector<std::string> given;  // names of the settings that the text holds
  std::optional<LearnRecipeResult> result;
};

// As paintRecipeText() and parsePaintRecipe().
std::string learnRecipeText(const LearnRecipe& recipe, const std::filesystem::path& folder);
LearnRecipe parseLearnRecipe(std::string_view text, const std::filesystem::path& file);

// All settings; those that were not as usual can be told.
std::vector<SettingText> settingsOf(const LearnRecipe& recipe);

}  // namespace jugendstil
