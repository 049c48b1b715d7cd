// SPDX-License-Identifier: Apache-2.0
// The file beside a painting that makes it again.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "paint/settings.h"
#include "recipe/recipe_input.h"
#include "style/objective.h"

namespace jugendstil {

struct RecipeResult {
  std::string version;
  bool finished = true;
  int width = 0;
  int height = 0;
  double seconds = 0;
  LossTerms loss;
};

// The painting by itself, as it was before it was laid over the photo; its mask is its transparency.
struct RecipePainting {
  RecipeInput file;    // the picture itself, or a file beside it
  std::string making;  // a checksum of all that it depends on
};

struct PaintRecipe {
  std::string picture;  // file name of the result, beside the recipe
  std::optional<RecipeInput> photo;
  std::vector<RecipeInput> references;
  std::vector<RecipePart> parts;
  std::vector<RecipeHold> holds;
  std::optional<RecipeInput> drawnLines;   // in place of the photo's own
  std::optional<RecipeInput> linesInside;  // a mask
  std::optional<RecipeMask> mask;
  std::optional<RecipeInput> painter;  // that paints at once, or begins where there are references
  std::optional<RecipeInput> start;    // where settings.start is a file
  std::optional<RecipeInput> network;
  PaintSettings settings;
  std::vector<std::string> given;          // names of the settings that the text holds
  std::optional<RecipePainting> painting;  // of a result that is finished
  std::optional<RecipeResult> result;
};

// TOML with every setting. Paths are written relative to the folder where they lie in or near it.
std::string paintRecipeText(const PaintRecipe& recipe, const std::filesystem::path& folder);

// Throws UsageError with the file's name, line and column: broken TOML, unknown keys (the nearest known
// one is offered), wrong types, values out of range. Everything may be missing: a recipe also serves as a
// preset.
PaintRecipe parsePaintRecipe(std::string_view text, const std::filesystem::path& file);

// --- As words.

// References, painters and parts, as referenceWords() has them.
std::string afterWords(const PaintRecipe& recipe);

// All settings; those that were not as usual can be told.
std::vector<SettingText> settingsOf(const PaintRecipe& recipe);

}  // namespace jugendstil
