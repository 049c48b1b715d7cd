// SPDX-License-Identifier: Apache-2.0
// The file beside an amplified photo that amplifies it again.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "amplify/settings.h"
#include "recipe/piece_result.h"
#include "recipe/recipe_input.h"

namespace jugendstil {

struct AmplifyRecipe {
  std::optional<RecipeInput> photo;
  std::vector<RecipeInput> towards;  // references with shares
  std::optional<RecipeMask> mask;
  std::optional<RecipeInput> network;
  AmplifySettings settings;
  std::vector<std::string> given;  // names of the settings that the text holds
  std::string picture;             // file name of the result, beside the recipe
  std::optional<PieceResult> result;
};

// TOML with every setting. Paths are written relative to the folder where they lie in or near it.
std::string amplifyRecipeText(const AmplifyRecipe& recipe, const std::filesystem::path& folder);

// Throws UsageError with file, line and column. Everything may be missing.
AmplifyRecipe parseAmplifyRecipe(std::string_view text, const std::filesystem::path& file);

// All settings; those that were not as usual can be told.
std::vector<SettingText> settingsOf(const AmplifyRecipe& recipe);

}  // namespace jugendstil
