// SPDX-License-Identifier: Apache-2.0
// The file beside a woven piece that weaves it again.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "recipe/piece_result.h"
#include "recipe/recipe_input.h"
#include "weave/settings.h"

namespace jugendstil {

struct WeaveRecipe {
  std::vector<RecipeInput>
      swatches;  // with shares; of a filled picture, what it is filled from besides itself
  std::optional<RecipeInput> picture;  // with a hole
  std::optional<RecipeInput> hole;     // its mask
  std::optional<RecipeInput> over;     // where which swatch lies
  std::optional<RecipeInput> layout;
  std::optional<RecipeInput> layoutMap;  // what the layout's colours are in the swatch
  std::optional<RecipeInput> along;      // a photo that the swatches' patches are to show,
  std::vector<RecipePart> parts;         // parts of it after other references,
  std::optional<RecipeMask> mask;        // and where it is woven at all
  WeaveSettings settings;
  std::vector<std::string> given;  // names of the settings that the text holds
  std::string piece;               // file name of the result, beside the recipe
  std::optional<PieceResult> result;
};

// TOML with every setting. Paths are written relative to the folder where they lie in or near it.
std::string weaveRecipeText(const WeaveRecipe& recipe, const std::filesystem::path& folder);

// Throws UsageError with file, line and column. Everything may be missing.
WeaveRecipe parseWeaveRecipe(std::string_view text, const std::filesystem::path& file);

// All settings; those that were not as usual can be told.
std::vector<SettingText> settingsOf(const WeaveRecipe& recipe);

}  // namespace jugendstil
