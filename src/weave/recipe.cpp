// SPDX-License-Identifier: Apache-2.0
#include "weave/recipe.h"

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

  WeaveRecipe parse() {
    head("weave");
    allow(root(),
          {"recipe", "command", "piece", "swatch", "picture", "fill", "over", "layout", "of", "along", "part",
           "mask", "settings", "result"},
          "key");
    WeaveRecipe recipe;
    recipe.piece = nameOfUtf8(text(root(), "piece")).native();
    recipe.swatches = sharedInputs("swatch");
    recipe.picture = input("picture");
    recipe.hole = input("fill");
    recipe.over = input("over");
    recipe.layout = input("layout");
    recipe.layoutMap = input("of");
    recipe.along = input("along");
    recipe.parts = parts();
    recipe.mask = mask();
    settings("settings", weaveSettingTable(), [&](const std::string& name, const std::string& value) {
      setWeaveSetting(recipe.settings, name, value);
      recipe.given.push_back(name);
    });
    recipe.result = pieceResult();
    return recipe;
  }
};

}  // namespace

std::string weaveRecipeText(const WeaveRecipe& recipe, const fs::path& folder) {
  std::string out =
      "# How this piece was woven. The same again:  jugendstil redo THIS_FILE -o NEW\n"
      "# With a change:                             jugendstil redo THIS_FILE --seed 2 -o NEW\n"
      "# Its settings for other swatches:           jugendstil weave SWATCH --recipe THIS_FILE -o NEW\n";
  out += recipeHead("weave") + fmt::format("piece = {}\n", tomlText(recipe.piece));
  out += sharedBlocks("swatch", recipe.swatches, folder);
  const auto block = [&](const char* name, const std::optional<RecipeInput>& input) {
    if (input) out += fmt::format("\n[{}]\n{}", name, inputLines(*input, folder));
  };
  block("picture", recipe.picture);
  block("fill", recipe.hole);
  block("over", recipe.over);
  block("layout", recipe.layout);
  block("of", recipe.layoutMap);
  block("along", recipe.along);
  out += partBlocks(recipe.parts, folder) + maskBlock(recipe.mask, folder);
  out += "\n[settings]\n";
  for (const SettingInfo& info : weaveSettingTable()) {
    const bool says = recipe.along ? !isOfGrowing(info.name) : !isOfAlong(info.name);
    if (says) out += settingLine(info, weaveSettingText(recipe.settings, info.name));
  }
  out += pieceResultBlock(recipe.result);
  return out;
}

WeaveRecipe parseWeaveRecipe(std::string_view text, const fs::path& file) {
  return Parser(text, file).parse();
}

std::vector<SettingText> settingsOf(const WeaveRecipe& recipe) {
  return settingTexts(weaveSettingTable(), recipe.settings, weaveSettingText);
}

}  // namespace jugendstil
