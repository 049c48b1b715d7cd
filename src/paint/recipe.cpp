// SPDX-License-Identifier: Apache-2.0
#include "paint/recipe.h"

#include <fmt/format.h>

#include "base/utf8.h"
#include "recipe/recipe_reader.h"
#include "recipe/recipe_words.h"
#include "recipe/recipe_writer.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

class Parser : RecipeReader {
 public:
  using RecipeReader::RecipeReader;

  PaintRecipe parse() {
    head("paint");
    allow(root(),
          {"recipe", "command", "picture", "photo", "reference", "part", "hold", "lines_from", "lines_inside",
           "mask", "painter", "start", "network", "settings", "painting", "result"},
          "key");
    PaintRecipe recipe;
    recipe.picture = nameOfUtf8(text(root(), "picture")).native();
    recipe.photo = input("photo");
    recipe.painter = input("painter");
    recipe.start = input("start");
    recipe.network = network();
    recipe.references = references();
    recipe.parts = parts();
    recipe.holds = holds();
    recipe.drawnLines = input("lines_from");
    recipe.linesInside = input("lines_inside");
    recipe.mask = mask();
    settings("settings", paintSettingTable(), [&](const std::string& name, const std::string& value) {
      setPaintSetting(recipe.settings, name, value);
      recipe.given.push_back(name);
    });
    painting(recipe);
    result(recipe);
    return recipe;
  }

 private:
  void painting(PaintRecipe& recipe) const {
    const toml::table* table = tableOf(root().get("painting"), "painting");
    if (table == nullptr) return;
    allow(*table, {"file", "checksum", "making"}, "key");
    recipe.painting = {inputIn(*table, "painting"), text(*table, "making")};
  }

  void result(PaintRecipe& recipe) const {
    const toml::table* table = tableOf(root().get("result"), "result");
    if (table == nullptr) return;
    allow(*table,
          {"version", "finished", "width", "height", "seconds", "loss", "loss_style", "loss_content",
           "loss_colour", "loss_smoothness", "loss_range"},
          "key");
    RecipeResult r;
    r.version = text(*table, "version");
    r.finished = truth(*table, "finished", true);
    r.width = static_cast<int>(number(*table, "width", 0));
    r.height = static_cast<int>(number(*table, "height", 0));
    r.seconds = number(*table, "seconds", 0);
    r.loss = {number(*table, "loss_style", 0), number(*table, "loss_content", 0),
              number(*table, "loss_colour", 0), number(*table, "loss_smoothness", 0),
              number(*table, "loss_range", 0)};
    recipe.result = r;
  }
};

}  // namespace

std::string paintRecipeText(const PaintRecipe& recipe, const fs::path& folder) {
  std::string out =
      "# How a picture was painted. The same again:  jugendstil redo THIS_FILE -o NEW.png\n"
      "# With a change:                              jugendstil redo THIS_FILE --likeness 30 -o NEW.png\n"
      "# Its settings for another photo:             jugendstil paint PHOTO --after REF --recipe THIS_FILE "
      "-o NEW.png\n";
  out += recipeHead("paint");
  if (!recipe.picture.empty()) out += fmt::format("picture = {}\n", tomlText(recipe.picture));
  if (recipe.photo) out += "\n[photo]\n" + inputLines(*recipe.photo, folder);
  out += sharedBlocks("reference", recipe.references, folder) + partBlocks(recipe.parts, folder) +
         holdBlocks(recipe.holds, folder) + maskBlock(recipe.mask, folder);
  if (recipe.drawnLines) out += "\n[lines_from]\n" + inputLines(*recipe.drawnLines, folder);
  if (recipe.linesInside) out += "\n[lines_inside]\n" + inputLines(*recipe.linesInside, folder);
  if (recipe.painter) out += "\n[painter]\n" + inputLines(*recipe.painter, folder);
  if (recipe.start) out += "\n[start]\n" + inputLines(*recipe.start, folder);
  if (recipe.network) out += "\n[network]\n" + inputLines(*recipe.network, folder);
  out += "\n[settings]\n";
  for (const SettingInfo& info : paintSettingTable())
    out += settingLine(info, paintSettingText(recipe.settings, info.name));
  if (recipe.painting)
    out += fmt::format("\n[painting]\n{}making = {}\n", inputLines(recipe.painting->file, folder),
                       tomlText(recipe.painting->making));
  if (!recipe.result) return out;
  const RecipeResult& r = *recipe.result;
  out += fmt::format("\n[result]\nversion = {}\nfinished = {}\nwidth = {}\nheight = {}\nseconds = {:.1f}\n",
                     tomlText(r.version), r.finished, r.width, r.height, r.seconds);
  out += fmt::format(
      "loss = {:.6f}\nloss_style = {:.6f}\nloss_content = {:.6f}\nloss_colour = {:.6f}\nloss_smoothness = "
      "{:.6f}\nloss_range = {:.6f}\n",
      r.loss.total(), r.loss.style, r.loss.content, r.loss.colour, r.loss.smoothness, r.loss.range);
  return out;
}

PaintRecipe parsePaintRecipe(std::string_view text, const fs::path& file) {
  return Parser(text, file).parse();
}

std::string afterWords(const PaintRecipe& recipe) {
  if (!recipe.painter) return referenceWords(recipe.references, recipe.parts);
  if (recipe.references.empty()) return referenceWords({*recipe.painter}, recipe.parts);
  return fmt::format("{}, begun by {}", referenceWords(recipe.references, recipe.parts),
                     recipe.painter->path.filename().string());
}

std::vector<SettingText> settingsOf(const PaintRecipe& recipe) {
  return settingTexts(paintSettingTable(), recipe.settings, paintSettingText);
}

}  // namespace jugendstil
