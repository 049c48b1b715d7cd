// SPDX-License-Identifier: Apache-2.0
// The file beside a dive that makes it again.
#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "dive/settings.h"
#include "recipe/recipe_input.h"
#include "recipe/setting_values.h"

namespace jugendstil {

// A file that counts from a moment on; empty: from the beginning.
struct TimedInput {
  std::string at;
  RecipeInput file;
};

struct DiveRecipeResult {
  std::string version;
  int width = 0;
  int height = 0;
  std::int64_t frames = 0;
  std::int64_t filled = 0;  // of them; those that could not be made
  double seconds = 0;
};

struct DiveRecipe {
  std::string film;                    // name of the result, beside the recipe
  std::optional<RecipeInput> start{};  // a picture or a clip,
  std::string noise{};                 // or "noise" or "grey-noise"
  std::vector<TimedInput> references{};
  std::vector<TimedInput> painters{};
  std::vector<RecipeInput> towards{};
  std::optional<RecipeMask> mask{};
  std::optional<RecipeInput> sound{};
  std::optional<RecipeInput> network{};
  DiveSettings settings{};
  std::vector<std::string> given{};  // names of the settings that the text holds
  std::optional<DiveRecipeResult> result{};
};

// As paintRecipeText() and parsePaintRecipe().
std::string diveRecipeText(const DiveRecipe& recipe, const std::filesystem::path& folder);
DiveRecipe parseDiveRecipe(std::string_view text, const std::filesystem::path& file);

// Files in the order in which they count, each key with its own.
Keys<std::vector<RecipeInput>> byMoment(const std::vector<TimedInput>& inputs);

// All settings; those that were not as usual can be told.
std::vector<SettingText> settingsOf(const DiveRecipe& recipe);

}  // namespace jugendstil
