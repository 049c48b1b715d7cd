// SPDX-License-Identifier: Apache-2.0
// What was painted into a folder, from its recipes.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "paint/recipe.h"

namespace jugendstil {

struct PastPainting {
  std::filesystem::path file;     // the recipe
  std::filesystem::path picture;  // beside it; may be gone
  PaintRecipe recipe;
};

struct History {
  std::vector<PastPainting> paintings;  // the oldest file first, those of one time by name
  std::vector<std::string> unreadable;  // what is wrong with recipes that are left out
};

// The recipes of one folder that have a result. Throws Error where it is no folder or cannot be read.
History historyOf(const std::filesystem::path& folder);

// Settings that are not as they usually are, like "likeness 20".
std::vector<std::string> unusualSettings(const PaintRecipe& recipe);

// What is not the same in two recipes, like "likeness: 20 / 80"; paths and times do not count.
std::vector<std::string> differences(const PaintRecipe& a, const PaintRecipe& b);

// "evening.jpg @3 and lino.jpg @1, mosaic.jpg under sky.png"
std::string referenceNames(const PaintRecipe& recipe);

}  // namespace jugendstil
