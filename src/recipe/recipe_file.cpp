// SPDX-License-Identifier: Apache-2.0
#include "recipe/recipe_file.h"

#include "base/file.h"
#include "base/toml_reader.h"

namespace jugendstil {

std::string readRecipe(const std::filesystem::path& file) {
  constexpr std::size_t kMostBytes = std::size_t{1} << 20;
  return readFile(file, kMostBytes);
}

const std::vector<std::string>& recipeCommands() {
  static const std::vector<std::string> commands{"paint",   "grade", "film", "weave",
                                                 "amplify", "dive",  "learn"};
  return commands;
}

std::string recipeCommand(std::string_view text, const std::filesystem::path& file) {
  return TomlReader(text, file).root()["command"].value_or(std::string("paint"));
}

}  // namespace jugendstil
