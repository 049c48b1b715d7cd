// SPDX-License-Identifier: Apache-2.0
// The files that a recipe names.
#pragma once

#include <filesystem>
#include <optional>
#include <string>

namespace jugendstil {

// The format of the recipes that are written, and the only one that is read.
inline constexpr int kRecipeFormat = 1;

struct RecipeInput {
  std::filesystem::path path;  // absolute once parsed, if it was relative to the recipe's folder
  std::string checksum;        // empty where not known
  double share = 1;            // of a reference
  std::string shipped{};       // its name, where it comes with the program: then no path stands in the recipe
};

// What one mask's white is made after.
struct RecipePart {
  RecipeInput mask;
  RecipeInput reference;
};

// A part whose drawing is held by a likeness of its own.
struct RecipeHold {
  std::optional<RecipeInput> mask;  // none: the photo's faces
  double likeness = 0;              // 0 to 100
};

// Work goes on only where the mask is white, or only where it is black.
struct RecipeMask {
  RecipeInput file;
  bool inside = true;
};

}  // namespace jugendstil
