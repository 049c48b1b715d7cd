// SPDX-License-Identifier: Apache-2.0
#include "film/film_recipe.h"

#include <fmt/format.h>

#include "base/utf8.h"
#include "recipe/recipe_reader.h"
#include "recipe/recipe_words.h"
#include "recipe/recipe_writer.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

constexpr double kMostFrames = 1e9;

std::string frameBlocks(const char* name, const std::vector<FrameInput>& inputs, const fs::path& folder) {
  std::string out;
  for (const FrameInput& one : inputs)
    out += fmt::format("\n[[{}]]\nframe = {}\n", name, one.frame) + inputLines(one.file, folder);
  return out;
}

class Parser : RecipeReader {
 public:
  using RecipeReader::RecipeReader;

  FilmRecipe parse() {
    head("film");
    allow(root(),
          {"recipe", "command", "film", "clip", "reference", "painter", "key", "mask", "mask_clip",
           "mask_side", "hold", "grade", "look", "network", "start", "painting", "settings", "result"},
          "key");
    FilmRecipe recipe;
    recipe.film = nameOfUtf8(text(root(), "film")).native();
    recipe.clip = input("clip");
    recipe.references = references();
    recipe.painter = input("painter");
    recipe.keys = frames("key");
    recipe.masks = frames("mask");
    recipe.maskClip = input("mask_clip");
    recipe.maskInside = side();
    recipe.holds = holds();
    recipe.grade = truth(root(), "grade", false);
    recipe.look = input("look");
    recipe.network = network();
    recipe.start = input("start");
    settings("painting", paintSettingTable(), [&](const std::string& name, const std::string& value) {
      setPaintSetting(recipe.paint, name, value);
      recipe.given.push_back(name);
    });
    settings("settings", filmSettingTable(), [&](const std::string& name, const std::string& value) {
      setFilmSetting(recipe.settings, name, value);
      recipe.given.push_back(name);
    });
    result(recipe);
    return recipe;
  }

 private:
  std::vector<FrameInput> frames(const char* name) const {
    std::vector<FrameInput> all;
    for (const toml::table* table : blocks(name)) {
      allow(*table, {"frame", "file", "checksum"}, "key");
      const double frame = number(*table, "frame", 0, 0, kMostFrames);
      all.push_back({static_cast<std::int64_t>(frame), inputIn(*table, name)});
    }
    return all;
  }

  bool side() const {
    const std::string side = text(root(), "mask_side");
    if (!side.empty() && side != "inside" && side != "outside")
      fail(root().get("mask_side")->source(), "\"mask_side\" is \"inside\" or \"outside\"");
    return side != "outside";
  }

  void result(FilmRecipe& recipe) const {
    const toml::table* table = tableOf(root().get("result"), "result");
    if (table == nullptr) return;
    allow(*table,
          {"version", "width", "height", "frames", "seconds", "warping_error", "source_warping_error"},
          "key");
    FilmRecipeResult r;
    r.version = text(*table, "version");
    r.width = static_cast<int>(number(*table, "width", 0));
    r.height = static_cast<int>(number(*table, "height", 0));
    r.frames = static_cast<std::int64_t>(number(*table, "frames", 0));
    r.seconds = number(*table, "seconds", 0);
    r.error = number(*table, "warping_error", 0);
    r.sourceError = number(*table, "source_warping_error", 0);
    recipe.result = r;
  }
};

}  // namespace

std::string filmRecipeText(const FilmRecipe& recipe, const fs::path& folder) {
  std::string out =
      "# How a film was made. The same again:     jugendstil redo THIS_FILE -o NEW.mkv\n"
      "# With a change:                           jugendstil redo THIS_FILE --steady 80 -o NEW.mkv\n"
      "# Its settings for another clip:           jugendstil film CLIP --recipe THIS_FILE -o NEW.mkv\n";
  out += recipeHead("film");
  if (!recipe.film.empty()) out += fmt::format("film = {}\n", tomlText(recipe.film));
  if (recipe.grade) out += "grade = true\n";
  if (!recipe.maskInside) out += "mask_side = \"outside\"\n";
  const auto one = [&](const char* name, const std::optional<RecipeInput>& input) {
    if (input) out += fmt::format("\n[{}]\n", name) + inputLines(*input, folder);
  };
  one("clip", recipe.clip);
  out += sharedBlocks("reference", recipe.references, folder);
  one("painter", recipe.painter);
  out += frameBlocks("key", recipe.keys, folder);
  out += frameBlocks("mask", recipe.masks, folder);
  one("mask_clip", recipe.maskClip);
  out += holdBlocks(recipe.holds, folder);
  one("look", recipe.look);
  one("start", recipe.start);
  if (!recipe.grade) {
    one("network", recipe.network);
    out += "\n[painting]\n";
    for (const SettingInfo& info : paintSettingTable()) {
      if (settingOfFilms(info.name)) out += settingLine(info, paintSettingText(recipe.paint, info.name));
    }
  }
  out += "\n[settings]\n";
  for (const SettingInfo& info : filmSettingTable())
    out += settingLine(info, filmSettingText(recipe.settings, info.name));
  if (!recipe.result) return out;
  const FilmRecipeResult& r = *recipe.result;
  return out + fmt::format(
                   "\n[result]\nversion = {}\nwidth = {}\nheight = {}\nframes = {}\nseconds = "
                   "{:.1f}\nwarping_error = {:.4e}\nsource_warping_error = {:.4e}\n",
                   tomlText(r.version), r.width, r.height, r.frames, r.seconds, r.error, r.sourceError);
}

FilmRecipe parseFilmRecipe(std::string_view text, const fs::path& file) { return Parser(text, file).parse(); }

bool paintsAtOnce(const FilmRecipe& recipe) {
  return !recipe.grade && (recipe.paint.quick || (recipe.painter && recipe.references.empty()));
}

std::string afterWords(const FilmRecipe& recipe) {
  if (recipe.look) return recipe.look->path.filename().string();
  const std::string words = referenceWords(recipe.references);
  if (recipe.painter) {
    const std::string painter = recipe.painter->path.filename().string();
    return words.empty() ? painter : fmt::format("{}, begun by {}", words, painter);
  }
  return words.empty() ? "its keyframes" : words;
}

std::vector<SettingText> settingsOf(const FilmRecipe& recipe) {
  std::vector<SettingText> all;
  if (!recipe.grade) all = settingTexts(paintSettingTable(), recipe.paint, paintSettingText);
  std::erase_if(all, [](const SettingText& s) { return !settingOfFilms(s.info.name); });
  const auto films = settingTexts(filmSettingTable(), recipe.settings, filmSettingText);
  all.insert(all.end(), films.begin(), films.end());
  return all;
}

bool settingOfFilms(const std::string& name) {
  return name != "snapshots" && name != "until" && name != "finish" && name != "proof" && name != "depth" &&
         name != "quality";
}

fs::path filmRecipePathFor(const std::string& output) {
  if (!isFramePattern(output)) return recipePathFor(output);
  const fs::path pattern(output);
  std::string stem = pattern.filename().string();
  stem.resize(stem.find('%'));
  while (!stem.empty() && (stem.back() == '_' || stem.back() == '-' || stem.back() == '.')) stem.pop_back();
  return pattern.parent_path() / ((stem.empty() ? "frames" : stem) + ".recipe.toml");
}

}  // namespace jugendstil
