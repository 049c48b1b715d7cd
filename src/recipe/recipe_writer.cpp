// SPDX-License-Identifier: Apache-2.0
#include "recipe/recipe_writer.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/toml_reader.h"

namespace jugendstil {

namespace fs = std::filesystem;

fs::path recipePathFor(const fs::path& picture) {
  fs::path path = picture;
  return path.replace_extension(".recipe.toml");
}

std::string recipeHead(const char* command) {
  return fmt::format("recipe = {}\ncommand = {}\n", kRecipeFormat, tomlText(command));
}

std::string portablePath(const fs::path& path, const fs::path& folder) {
  const fs::path full = fs::absolute(path).lexically_normal();
  const fs::path near = full.lexically_relative(fs::absolute(folder).lexically_normal());
  // Out of the neighbourhood the absolute path is the more useful one.
  const auto ups = std::count(near.begin(), near.end(), fs::path(".."));
  return near.empty() || ups > 2 ? full.string() : near.string();
}

std::string inputLines(const RecipeInput& input, const fs::path& folder) {
  const std::string where = input.shipped.empty() ? "file = " + tomlText(portablePath(input.path, folder))
                                                  : "shipped = " + tomlText(input.shipped);
  return fmt::format("{}\nchecksum = {}\n", where, tomlText(input.checksum));
}

std::string settingLine(const SettingInfo& info, const std::string& text) {
  return fmt::format("{} = {}\n", info.name, info.number ? text : tomlText(text));
}

}  // namespace jugendstil
