// SPDX-License-Identifier: Apache-2.0
// Recipes as files: whose they are, before all of them is read.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace jugendstil {

// The text of a recipe. Throws Error where there is none of that name, or it is far too long for one.
std::string readRecipe(const std::filesystem::path& file);

// The commands that have recipes and defaults.
const std::vector<std::string>& recipeCommands();

// The command whose recipe a text is: "paint" where it does not say. Throws UsageError for broken TOML.
std::string recipeCommand(std::string_view text, const std::filesystem::path& file);

}  // namespace jugendstil
