// The file beside a painting that makes it again.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "paint/settings.h"
#include "style/objective.h"

namespace jugendstil {

struct RecipeInput {
  std::filesystem::path path;  // absolute once parsed, if it was relative to the recipe's folder
  std::string checksum;        // empty where not known
  double share = 1;            // of a reference
};

// What one mask's white is painted after.
struct RecipePart {
  RecipeInput mask;
  RecipeInput reference;
};

struct RecipeResult {
  std::string version;
  bool finished = true;
  int width = 0;
  int height = 0;
  double seconds = 0;
  LossTerms loss;
};

struct Recipe {
  std::string picture;  // file name of the result, beside the recipe
  std::optional<RecipeInput> photo;
  std::vector<RecipeInput> references;
  std::vector<RecipePart> parts;
  std::optional<RecipeInput> mask;   // painted only there,
  bool maskInside = true;            // or only where it is black
  std::optional<RecipeInput> start;  // where settings.start is a file
  std::optional<RecipeInput> network;
  PaintSettings settings;
  std::vector<std::string> given;  // names of the settings that the text holds
  std::optional<RecipeResult> result;
};

// TOML with every setting. Paths are written relative to the folder where they lie in or near it.
std::string recipeText(const Recipe& recipe, const std::filesystem::path& folder);

// Throws UsageError with the file's name, line and column: broken TOML, unknown keys (the nearest known
// one is offered), wrong types, values out of range. Everything may be missing: a recipe also serves as a
// preset.
Recipe parseRecipe(std::string_view text, const std::filesystem::path& file);

// The command whose recipe a text is: "paint" where it does not say. Throws UsageError for broken TOML.
std::string recipeCommand(std::string_view text, const std::filesystem::path& file);

// out.png -> out.recipe.toml
std::filesystem::path recipePathFor(const std::filesystem::path& picture);

}  // namespace jugendstil
