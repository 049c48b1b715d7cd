// SPDX-License-Identifier: Apache-2.0
#include "recipe/user_defaults.h"

#include "recipe/recipe_file.h"
#include "recipe/recipe_reader.h"

namespace jugendstil {
namespace {

class Reader : RecipeReader {
 public:
  using RecipeReader::RecipeReader;

  void read(const std::string& command, const std::vector<SettingInfo>& known, const Set& set) {
    allow(root(), recipeCommands(), "table");
    settings(command.c_str(), known, set);
  }
};

}  // namespace

void readUserDefaults(std::string_view text, const std::filesystem::path& file, const std::string& command,
                      const std::vector<SettingInfo>& known,
                      const std::function<void(const std::string& name, const std::string& value)>& set) {
  Reader(text, file).read(command, known, set);
}

}  // namespace jugendstil
