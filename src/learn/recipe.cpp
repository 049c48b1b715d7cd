// SPDX-License-Identifier: Apache-2.0
#include "learn/recipe.h"

#include <fmt/format.h>

#include "base/toml_reader.h"
#include "base/utf8.h"
#include "recipe/recipe_reader.h"
#include "recipe/recipe_writer.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr double kMostFrames = 1e9;
constexpr double kMostSteps = 1e6;

class Parser : RecipeReader {
 public:
  using RecipeReader::RecipeReader;

  LearnRecipe parse() {
    head("learn");
    allow(root(),
          {"recipe", "command", "painter", "reference", "photo", "clip", "show", "network", "settings",
           "result"},
          "key");
    LearnRecipe recipe;
    recipe.painter = nameOfUtf8(text(root(), "painter")).native();
    recipe.references = references();
    for (const toml::table* table : blocks("photo")) {
      allow(*table, {"file", "checksum"}, "key");
      recipe.photos.push_back(inputIn(*table, "photo"));
    }
    recipe.clip = input("clip");
    for (const toml::table* table : blocks("show")) recipe.shown.push_back(shown(*table));
    recipe.network = network();
    settings("settings", learnSettingTable(), [&](const std::string& name, const std::string& value) {
      setLearnSetting(recipe.settings, name, value);
      recipe.given.push_back(name);
    });
    if (const toml::table* table = tableOf(root().get("result"), "result")) {
      allow(*table, {"version", "finished", "steps", "seconds", "loss_style", "loss_content"}, "key");
      recipe.result = LearnRecipeResult{text(*table, "version"),
                                        truth(*table, "finished", true),
                                        static_cast<int>(number(*table, "steps", 0, 0, kMostSteps)),
                                        number(*table, "seconds", 0),
                                        number(*table, "loss_style", 0),
                                        number(*table, "loss_content", 0)};
    }
    return recipe;
  }

 private:
  ShownInput shown(const toml::table& table) const {
    allow(table, {"frame", "photo", "photo_checksum", "file", "checksum"}, "key");
    ShownInput one;
    one.painting = inputIn(table, "show");
    const std::string photo = text(table, "photo");
    if (photo.empty())
      one.frame = static_cast<std::int64_t>(number(table, "frame", 0, 0, kMostFrames));
    else
      one.photo = RecipeInput{pathFrom(photo), text(table, "photo_checksum")};
    return one;
  }
};

std::string shownBlock(const ShownInput& shown, const fs::path& folder) {
  std::string out = "\n[[show]]\n";
  if (shown.photo)
    out += fmt::format("photo = {}\nphoto_checksum = {}\n", tomlText(portablePath(shown.photo->path, folder)),
                       tomlText(shown.photo->checksum));
  else
    out += fmt::format("frame = {}\n", shown.frame);
  return out + inputLines(shown.painting, folder);
}

}  // namespace

std::string learnRecipeText(const LearnRecipe& recipe, const fs::path& folder) {
  std::string out =
      "# What a quick painter has learned. The same again:  jugendstil redo THIS_FILE -o NEW.painter.onnx\n"
      "# With a change:                                     jugendstil redo THIS_FILE --likeness 30 -o "
      "NEW.painter.onnx\n"
      "# To paint with it:                                  jugendstil paint PHOTO --with PAINTER -o "
      "OUT.png\n";
  out += recipeHead("learn") + fmt::format("painter = {}\n", tomlText(recipe.painter));
  out += sharedBlocks("reference", recipe.references, folder);
  for (const RecipeInput& photo : recipe.photos) out += "\n[[photo]]\n" + inputLines(photo, folder);
  if (recipe.clip) out += "\n[clip]\n" + inputLines(*recipe.clip, folder);
  for (const ShownInput& shown : recipe.shown) out += shownBlock(shown, folder);
  if (recipe.network) out += "\n[network]\n" + inputLines(*recipe.network, folder);
  out += "\n[settings]\n";
  for (const SettingInfo& info : learnSettingTable())
    out += settingLine(info, learnSettingText(recipe.settings, info.name));
  if (!recipe.result) return out;
  const LearnRecipeResult& r = *recipe.result;
  return out + fmt::format(
                   "\n[result]\nversion = {}\nfinished = {}\nsteps = {}\nseconds = {:.1f}\nloss_style = "
                   "{:.6f}\nloss_content = {:.6f}\n",
                   tomlText(r.version), r.finished, r.steps, r.seconds, r.style, r.content);
}

LearnRecipe parseLearnRecipe(std::string_view text, const fs::path& file) {
  return Parser(text, file).parse();
}

std::vector<SettingText> settingsOf(const LearnRecipe& recipe) {
  return settingTexts(learnSettingTable(), recipe.settings, learnSettingText);
}

}  // namespace jugendstil
