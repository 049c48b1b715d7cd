// SPDX-License-Identifier: Apache-2.0
#include "amplify/recipe.h"

#include <fmt/format.h>

#include "base/toml_reader.h"
#include "base/utf8.h"
#include "recipe/recipe_reader.h"
#include "recipe/recipe_writer.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

class Parser : RecipeReader {
 public:
  using RecipeReader::RecipeReader;

  AmplifyRecipe parse() {
    head("amplify");
    allow(root(),
          {"recipe", "command", "picture", "photo", "towards", "mask", "network", "settings", "result"},
          "key");
    AmplifyRecipe recipe;
    recipe.picture = nameOfUtf8(text(root(), "picture")).native();
    recipe.photo = input("photo");
    recipe.towards = sharedInputs("towards");
    recipe.mask = mask();
    recipe.network = network();
    settings("settings", amplifySettingTable(), [&](const std::string& name, const std::string& value) {
      setAmplifySetting(recipe.settings, name, value);
      recipe.given.push_back(name);
    });
    recipe.result = pieceResult();
    return recipe;
  }
};

}  // namespace

std::string amplifyRecipeText(const AmplifyRecipe& recipe, const fs::path& folder) {
  std::string out =
      "# How this picture was amplified. The same again:  jugendstil redo THIS_FILE -o NEW\n"
      "# With a change:                                   jugendstil redo THIS_FILE --strength 80 -o NEW\n"
      "# Its settings for another photo:                  jugendstil amplify PHOTO --recipe THIS_FILE -o "
      "NEW\n";
  out += recipeHead("amplify") + fmt::format("picture = {}\n", tomlText(recipe.picture));
  if (recipe.photo) out += "\n[photo]\n" + inputLines(*recipe.photo, folder);
  out += sharedBlocks("towards", recipe.towards, folder) + maskBlock(recipe.mask, folder);
  if (recipe.network) out += "\n[network]\n" + inputLines(*recipe.network, folder);
  out += "\n[settings]\n";
  for (const SettingInfo& info : amplifySettingTable())
    out += settingLine(info, amplifySettingText(recipe.settings, info.name));
  return out + pieceResultBlock(recipe.result);
}

AmplifyRecipe parseAmplifyRecipe(std::string_view text, const fs::path& file) {
  return Parser(text, file).parse();
}

std::vector<SettingText> settingsOf(const AmplifyRecipe& recipe) {
  return settingTexts(amplifySettingTable(), recipe.settings, amplifySettingText);
}

}  // namespace jugendstil
