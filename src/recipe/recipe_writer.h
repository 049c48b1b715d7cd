// SPDX-License-Identifier: Apache-2.0
// What the recipes of all commands have in common when they are written.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "recipe/piece_result.h"
#include "recipe/recipe_input.h"
#include "recipe/setting_values.h"

namespace jugendstil {

// The recipe of a result: out.png -> out.recipe.toml; where that is another result's (out.jpg's), or there is
// one of this name already, out.png.recipe.toml.
std::filesystem::path recipePathFor(const std::filesystem::path& result);

// The first lines: format and command.
std::string recipeHead(const char* command);

// Relative to the folder where the path lies in or near it, absolute elsewhere.
std::string portablePath(const std::filesystem::path& path, const std::filesystem::path& folder);

// A table's lines for a file of that folder's recipe.
std::string inputLines(const RecipeInput& input, const std::filesystem::path& folder);

// [[name]] with a share, [[part]], [[hold]], [mask] and [result] with an empty line before each.
std::string sharedBlocks(const char* name, const std::vector<RecipeInput>& inputs,
                         const std::filesystem::path& folder);
std::string partBlocks(const std::vector<RecipePart>& parts, const std::filesystem::path& folder);
std::string holdBlocks(const std::vector<RecipeHold>& holds, const std::filesystem::path& folder);
std::string maskBlock(const std::optional<RecipeMask>& mask, const std::filesystem::path& folder);
std::string pieceResultBlock(const std::optional<PieceResult>& result);

// A setting's line, its text quoted unless it is a number.
std::string settingLine(const SettingInfo& info, const std::string& text);

}  // namespace jugendstil
