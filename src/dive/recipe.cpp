// SPDX-License-Identifier: Apache-2.0
#include "dive/recipe.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/toml_reader.h"
#include "base/utf8.h"
#include "recipe/recipe_reader.h"
#include "recipe/recipe_writer.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr double kMostFrames = 1e9;

class Parser : RecipeReader {
 public:
  using RecipeReader::RecipeReader;

  DiveRecipe parse() {
    head("dive");
    allow(root(),
          {"recipe", "command", "film", "noise", "start", "reference", "painter", "towards", "mask", "sound",
           "network", "settings", "result"},
          "key");
    DiveRecipe recipe;
    recipe.film = nameOfUtf8(text(root(), "film")).native();
    recipe.start = input("start");
    recipe.noise = text(root(), "noise");
    if (!recipe.noise.empty() && recipe.noise != "noise" && recipe.noise != "grey-noise")
      fail(root().get("noise")->source(), "\"noise\" is \"noise\" or \"grey-noise\"");
    recipe.references = timed("reference");
    recipe.painters = timed("painter");
    recipe.towards = sharedInputs("towards");
    recipe.mask = mask();
    recipe.sound = input("sound");
    recipe.network = network();
    settings("settings", diveSettingTable(), [&](const std::string& name, const std::string& value) {
      setDiveSetting(recipe.settings, name, value);
      recipe.given.push_back(name);
    });
    result(recipe);
    return recipe;
  }

 private:
  std::vector<TimedInput> timed(const char* name) const {
    std::vector<TimedInput> all;
    for (const toml::table* table : blocks(name)) {
      allow(*table, {"at", "file", "checksum", "share"}, "key");
      const std::string at = text(*table, "at");
      try {
        frameAt(at, 1);
      } catch (const UsageError& e) {
        fail(table->get("at")->source(), e.what());
      }
      all.push_back({at, inputIn(*table, name)});
    }
    return all;
  }

  void result(DiveRecipe& recipe) const {
    const toml::table* table = tableOf(root().get("result"), "result");
    if (table == nullptr) return;
    allow(*table, {"version", "width", "height", "frames", "filled", "seconds"}, "key");
    const auto whole = [&](const char* key) {
      return static_cast<std::int64_t>(number(*table, key, 0, 0, kMostFrames));
    };
    recipe.result = DiveRecipeResult{text(*table, "version"),
                                     static_cast<int>(whole("width")),
                                     static_cast<int>(whole("height")),
                                     whole("frames"),
                                     whole("filled"),
                                     number(*table, "seconds", 0)};
  }
};

std::string timedBlocks(const char* name, const std::vector<TimedInput>& inputs, const fs::path& folder) {
  std::string out;
  for (const TimedInput& one : inputs) {
    out += fmt::format("\n[[{}]]\n", name);
    if (!one.at.empty()) out += fmt::format("at = {}\n", tomlText(one.at));
    out += inputLines(one.file, folder) + fmt::format("share = {}\n", one.file.share);
  }
  return out;
}

}  // namespace

std::string diveRecipeText(const DiveRecipe& recipe, const fs::path& folder) {
  std::string out =
      "# How this dive was made. The same again:  jugendstil redo THIS_FILE -o NEW.mkv\n"
      "# With a change:                           jugendstil redo THIS_FILE --zoom 1.01 -o NEW.mkv\n"
      "# Its settings from another start:         jugendstil dive START --recipe THIS_FILE -o NEW.mkv\n";
  out += recipeHead("dive");
  if (!recipe.film.empty()) out += fmt::format("film = {}\n", tomlText(recipe.film));
  if (!recipe.noise.empty()) out += fmt::format("noise = {}\n", tomlText(recipe.noise));
  const auto one = [&](const char* name, const std::optional<RecipeInput>& input) {
    if (input) out += fmt::format("\n[{}]\n", name) + inputLines(*input, folder);
  };
  one("start", recipe.start);
  out +=
      timedBlocks("reference", recipe.references, folder) + timedBlocks("painter", recipe.painters, folder);
  out += sharedBlocks("towards", recipe.towards, folder) + maskBlock(recipe.mask, folder);
  one("sound", recipe.sound);
  one("network", recipe.network);
  out += "\n[settings]\n";
  for (const SettingInfo& info : diveSettingTable())
    out += settingLine(info, diveSettingText(recipe.settings, info.name));
  if (!recipe.result) return out;
  const DiveRecipeResult& r = *recipe.result;
  return out + fmt::format(
                   "\n[result]\nversion = {}\nwidth = {}\nheight = {}\nframes = {}\nfilled = {}\nseconds = "
                   "{:.1f}\n",
                   tomlText(r.version), r.width, r.height, r.frames, r.filled, r.seconds);
}

DiveRecipe parseDiveRecipe(std::string_view text, const fs::path& file) { return Parser(text, file).parse(); }

Keys<std::vector<RecipeInput>> byMoment(const std::vector<TimedInput>& inputs) {
  Keys<std::vector<RecipeInput>> keys;
  for (const TimedInput& one : inputs) {
    const auto same =
        std::find_if(keys.begin(), keys.end(), [&](const auto& key) { return key.at == one.at; });
    if (same == keys.end())
      keys.push_back({one.at, {one.file}});
    else
      same->value.push_back(one.file);
  }
  return keys;
}

std::vector<SettingText> settingsOf(const DiveRecipe& recipe) {
  return settingTexts(diveSettingTable(), recipe.settings, diveSettingText);
}

}  // namespace jugendstil
