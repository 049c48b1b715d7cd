// SPDX-License-Identifier: Apache-2.0
#include "grade/recipe.h"

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

  GradeRecipe parse() {
    head("grade");
    allow(root(), {"recipe", "command", "photo", "reference", "look", "part", "mask", "settings", "result"},
          "key");
    GradeRecipe recipe;
    photos(recipe);
    recipe.references = references();
    recipe.look = input("look");
    recipe.parts = parts();
    recipe.mask = mask();
    settings("settings", gradeSettingTable(), [&](const std::string& name, const std::string& value) {
      setGradeSetting(recipe.settings, name, value);
      recipe.given.push_back(name);
    });
    result(recipe);
    return recipe;
  }

 private:
  void photos(GradeRecipe& recipe) const {
    for (const toml::table* table : blocks("photo")) {
      allow(*table, {"file", "checksum", "result"}, "key");
      recipe.photos.push_back({inputIn(*table, "photo"), nameOfUtf8(text(*table, "result")).native()});
    }
  }

  void result(GradeRecipe& recipe) const {
    const toml::table* table = tableOf(root().get("result"), "result");
    if (table == nullptr) return;
    allow(*table, {"version", "finished", "graded", "seconds", "ciede2000_before", "ciede2000_after"}, "key");
    GradeRecipeResult r;
    r.version = text(*table, "version");
    r.finished = truth(*table, "finished", true);
    r.graded = static_cast<int>(number(*table, "graded", 0, 0, 1e9));
    r.seconds = number(*table, "seconds", 0);
    if (table->get("ciede2000_after") != nullptr)
      r.distance = {number(*table, "ciede2000_before", 0), number(*table, "ciede2000_after", 0)};
    recipe.result = r;
  }
};

std::string resultText(const GradeRecipeResult& r) {
  std::string out = fmt::format("\n[result]\nversion = {}\nfinished = {}\ngraded = {}\nseconds = {:.1f}\n",
                                tomlText(r.version), r.finished, r.graded, r.seconds);
  if (r.distance)
    out += fmt::format("ciede2000_before = {:.2f}\nciede2000_after = {:.2f}\n", (*r.distance)[0],
                       (*r.distance)[1]);
  return out;
}

}  // namespace

std::string gradeRecipeText(const GradeRecipe& recipe, const fs::path& folder) {
  std::string out =
      "# How photos were graded. The same again:  jugendstil redo THIS_FILE -o NEW\n"
      "# With a change:                           jugendstil redo THIS_FILE --amount 60 -o NEW\n"
      "# Its settings for other photos:           jugendstil grade PHOTO --recipe THIS_FILE -o NEW\n";
  out += recipeHead("grade");
  for (const GradedPhoto& p : recipe.photos)
    out += "\n[[photo]]\n" + inputLines(p.photo, folder) + fmt::format("result = {}\n", tomlText(p.result));
  out += sharedBlocks("reference", recipe.references, folder);
  if (recipe.look) out += "\n[look]\n" + inputLines(*recipe.look, folder);
  out += partBlocks(recipe.parts, folder) + maskBlock(recipe.mask, folder) + "\n[settings]\n";
  for (const SettingInfo& info : gradeSettingTable())
    out += settingLine(info, gradeSettingText(recipe.settings, info.name));
  if (recipe.result) out += resultText(*recipe.result);
  return out;
}

GradeRecipe parseGradeRecipe(std::string_view text, const fs::path& file) {
  return Parser(text, file).parse();
}

std::vector<SettingText> settingsOf(const GradeRecipe& recipe) {
  return settingTexts(gradeSettingTable(), recipe.settings, gradeSettingText);
}

}  // namespace jugendstil
