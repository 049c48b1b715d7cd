// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/number.h"
#include "cli/options.h"
#include "cli/progress.h"
#include "cli/say.h"
#include "image/picture_file.h"
#include "paint/history.h"
#include "recipe/recipe_reader.h"
#include "recipe/recipe_writer.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

bool holds(const std::string& text, const std::string& word) { return text.find(word) != std::string::npos; }

// A filter like likeness=20: the setting's value as it would be taken on the command line.
bool hasSetting(const PaintRecipe& recipe, const std::string& word) {
  const auto equals = word.find('=');
  if (equals == std::string::npos || equals == 0)
    throw UsageError(fmt::format("--where is a setting and its value like likeness=20, not \"{}\"", word));
  const std::string name = word.substr(0, equals);
  PaintSettings wanted;
  try {
    setPaintSetting(wanted, name, word.substr(equals + 1));
  } catch (const UsageError& e) {
    throw UsageError(fmt::format("--where {}: {}", word, e.what()));
  }
  return paintSettingText(recipe.settings, name) == paintSettingText(wanted, name);
}

bool isWanted(const PaintRecipe& recipe, const po::variables_map& given) {
  if (given.count("after") != 0 && !holds(referenceNames(recipe), textOf(given, "after"))) return false;
  if (given.count("photo") != 0 &&
      (!recipe.photo || !holds(recipe.photo->path.filename().string(), textOf(given, "photo"))))
    return false;
  if (given.count("where") == 0) return true;
  bool wanted = true;
  for (const std::string& word : listOf(given, "where")) wanted = hasSetting(recipe, word) && wanted;
  return wanted;
}

std::string inWords(const PaintRecipe& recipe) {
  const auto unusual = unusualSettings(recipe);
  std::string text =
      fmt::format("{} after {}", recipe.photo ? recipe.photo->path.filename().string() : "a photo",
                  referenceNames(recipe));
  if (recipe.mask) {
    text += fmt::format(", {} {}", recipe.maskInside ? "inside" : "outside",
                        recipe.mask->path.filename().string());
  }
  if (!unusual.empty()) text += fmt::format(": {}", fmt::join(unusual, ", "));
  return text;
}

nlohmann::json unusualValues(const PaintRecipe& recipe) {
  const PaintSettings usual;
  nlohmann::json values = nlohmann::json::object();
  for (const SettingInfo& info : paintSettingTable()) {
    const std::string text = paintSettingText(recipe.settings, info.name);
    if (text == paintSettingText(usual, info.name)) continue;
    if (info.number)
      values[info.name] = std::stod(text);
    else
      values[info.name] = text;
  }
  return values;
}

void tell(const PastPainting& past, bool json) {
  const RecipeResult& result = *past.recipe.result;
  std::error_code code;
  const bool there = fs::exists(past.picture, code);
  if (json) {
    const nlohmann::json object{{"recipe", past.file.string()},
                                {"picture", past.picture.string()},
                                {"there", there},
                                {"after", referenceNames(past.recipe)},
                                {"finished", result.finished},
                                {"width", result.width},
                                {"height", result.height},
                                {"seconds", result.seconds},
                                {"loss", result.loss.total()},
                                {"settings", unusualValues(past.recipe)}};
    sayJson(stdout, object);
    return;
  }
  say(stdout, "{}{}{}\n  {}\n  {}x{}, loss {:.4f}, {}\n", past.picture.filename().string(),
      there ? "" : " (the picture is gone)", result.finished ? "" : " (unfinished)", inWords(past.recipe),
      result.width, result.height, result.loss.total(), duration(result.seconds));
}

void writeSheet(const fs::path& file, const std::string& title, const std::vector<PastPainting>& paintings) {
  std::vector<SheetCell> cells;
  for (const PastPainting& past : paintings) {
    std::error_code code;
    const auto unusual = unusualSettings(past.recipe);
    SheetCell cell{
        {},
        past.picture.filename().string(),
        unusual.empty() ? referenceNames(past.recipe) : fmt::format("{}", fmt::join(unusual, ", "))};
    if (fs::exists(past.picture, code)) cell.picture = readPicture(past.picture).image;
    cells.push_back(std::move(cell));
  }
  SheetOptions options;
  options.title = title;
  options.columns = std::min(4, countOf(cells));
  writePicture(file, contactSheet(cells, options), Depth::eight);
}

PaintRecipe recipeAt(fs::path file) {
  if (!file.string().ends_with(".toml")) file = recipePathFor(file);
  return parsePaintRecipe(readRecipe(file), file);
}

int tellDifferences(const std::vector<std::string>& words) {
  if (words.size() != 2)
    throw UsageError("--differs takes two pictures or recipes: jugendstil history A B --differs");
  const auto all = differences(recipeAt(words[0]), recipeAt(words[1]));
  if (all.empty()) say(stdout, "nothing differs: the two are painted alike\n");
  for (const std::string& line : all) say(stdout, "{}\n", line);
  return 0;
}

po::options_description historyOptions() {
  auto options = optionGroup("Options");
  options.add_options()("folder", po::value<std::vector<std::string>>()->value_name("DIR"),
                        "the folder with paintings and their recipes (the plain word)")(
      "after", po::value<std::string>()->value_name("WORD"),
      "only those after a reference whose name holds this")(
      "photo", po::value<std::string>()->value_name("WORD"), "only those of a photo whose name holds this")(
      "where", po::value<std::vector<std::string>>()->value_name("SETTING=VALUE"),
      "only those with this setting; may be given again")(
      "sheet", po::value<std::string>()->value_name("FILE.png"), "lay the pictures on a sheet as well")(
      "differs", "say what differs between two pictures or recipes (the plain words)")(
      "json", "one object a line, for other programs")("force,f", "replace files that exist");
  addHelpOptions(options);
  return options;
}

}  // namespace

int historyCommand(const Words& words) {
  const auto all = historyOptions();
  po::positional_options_description positions;
  positions.add("folder", -1);
  const auto given = parseWords(words, all, positions, "history");
  if (sayHelpIfAsked(
          given,
          "usage: jugendstil history DIR [options]\n"
          "       jugendstil history A B --differs\n\n"
          "Lists what was painted into a folder, from the recipes there: the oldest first, with the "
          "settings\n"
          "that are not as usual.\n\n"
          "  jugendstil history drafts --after lino --where likeness=20 --sheet lino.png\n"
          "  jugendstil history drafts/bench-1.png drafts/bench-2.png --differs\n",
          all))
    return 0;
  if (given.count("folder") == 0) throw UsageError("history needs a folder: jugendstil history DIR");
  const auto folders = listOf(given, "folder");
  if (given.count("differs") != 0) return tellDifferences(folders);
  if (folders.size() != 1)
    throw UsageError("history takes one folder; of two pictures it says what --differs");
  const fs::path sheet = textOf(given, "sheet");
  if (!sheet.empty()) {
    requireWritableName(sheet);
    requireFree(sheet, given.count("force") != 0);
  }
  History history = historyOf(folders.front());
  std::erase_if(history.paintings, [&](const PastPainting& p) { return !isWanted(p.recipe, given); });
  for (const std::string& why : history.unreadable) say(stderr, "note: left out: {}\n", why);
  for (const PastPainting& past : history.paintings) tell(past, given.count("json") != 0);
  if (history.paintings.empty()) {
    say(stderr, "no painting with a recipe in {}{}\n", folders.front(),
        given.count("after") + given.count("photo") + given.count("where") != 0 ? " is like that" : "");
    return 0;
  }
  if (sheet.empty()) return 0;
  writeSheet(sheet, folders.front(), history.paintings);
  if (given.count("json") == 0)
    say(stdout, "{}: {} painting{}\n", sheet.string(), history.paintings.size(),
        history.paintings.size() == 1 ? "" : "s");
  return 0;
}

}  // namespace jugendstil::cli
