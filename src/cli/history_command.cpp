// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/number.h"
#include "cli/options.h"
#include "cli/progress.h"
#include "cli/say.h"
#include "clip/clip.h"
#include "history/history.h"
#include "image/picture_file.h"
#include "recipe/recipe_file.h"
#include "recipe/recipe_writer.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

bool holds(const std::string& text, const std::string& word) { return text.find(word) != std::string::npos; }

const Choices<bool> kCommands{{"paint", true},   {"grade", true}, {"film", true}, {"weave", true},
                              {"amplify", true}, {"dive", true},  {"learn", true}};

// Filters like likeness=20: the setting's value as it would be taken on the command line.
void requireWhere(const std::string& word) {
  const auto equals = word.find('=');
  if (equals == std::string::npos || equals == 0)
    throw UsageError(fmt::format("--where is a setting and its value like likeness=20, not \"{}\"", word));
  try {
    requireSettingName(word.substr(0, equals));
  } catch (const UsageError& e) {
    throw UsageError(fmt::format("--where {}: {}", word, e.what()));
  }
}

bool matches(const PastWork& work, const std::string& word) {
  const auto equals = word.find('=');
  try {
    return hasSetting(work, word.substr(0, equals), word.substr(equals + 1));
  } catch (const UsageError& e) {
    throw UsageError(fmt::format("--where {}: {}", word, e.what()));
  }
}

bool isOf(const PastWork& work, const std::string& word) {
  return std::any_of(work.inputs.begin(), work.inputs.end(), [&](const PastInput& i) {
    return (i.role == "photo" || i.role == "clip") && holds(i.name, word);
  });
}

bool isWanted(const PastWork& work, const po::variables_map& given) {
  if (given.count("of") != 0 && work.command != textOf(given, "of")) return false;
  if (given.count("after") != 0 && !holds(work.after, textOf(given, "after"))) return false;
  if (given.count("photo") != 0 && !isOf(work, textOf(given, "photo"))) return false;
  bool wanted = true;
  for (const std::string& word : listOf(given, "where")) wanted = matches(work, word) && wanted;
  return wanted;
}

// "gate.jpg", or "5 photos".
std::string sourceOf(const PastWork& work) {
  if (work.results.size() > 1) return fmt::format("{} photos", work.results.size());
  const bool named =
      !work.inputs.empty() && (work.inputs[0].role == "photo" || work.inputs[0].role == "clip");
  if (work.command == "weave") return named ? work.inputs[0].name : "a piece";
  if (work.command == "learn") return "a painter";
  return named ? work.inputs[0].name : work.command == "film" ? "a clip" : "a photo";
}

// What was made, as one names it: the picture, the film, or the folder of a series.
fs::path nameOf(const PastWork& work) {
  if (work.results.size() == 1) return work.results[0].filename();
  return work.recipe.filename().string().substr(0, work.recipe.filename().string().find('.')) + " (" +
         sourceOf(work) + ")";
}

bool isThere(const PastWork& work) {
  std::error_code code;
  return std::all_of(work.results.begin(), work.results.end(), [&](const fs::path& file) {
    return isFramePattern(file.string()) ? fs::exists(frameName(file.string(), 0), code)
                                         : fs::exists(file, code);
  });
}

std::string inWords(const PastWork& work) {
  const auto unusual = unusualOf(work.settings);
  std::string text =
      fmt::format("{} {}{}{}", sourceOf(work), linkTo(work), work.after.empty() ? "" : " ", work.after);
  for (const std::string& words : {work.held, work.mask}) {
    if (!words.empty()) text += ", " + words;
  }
  if (!unusual.empty()) text += fmt::format(": {}", fmt::join(unusual, ", "));
  return text;
}

// "640x427, loss 0.0312, 42 s"
std::string figuresOf(const PastWork& work) {
  const char* const done = work.command == "grade"     ? "graded in "
                           : work.command == "weave"   ? "woven in "
                           : work.command == "learn"   ? "learned in "
                           : work.command == "amplify" ? "amplified in "
                                                       : "painted in ";
  std::string text = work.width > 0 ? fmt::format("{}x{}, ", work.width, work.height) : std::string();
  if (work.frames > 0) text += fmt::format("{} frames, ", work.frames);
  for (const auto& [name, value] : work.figures) {
    if (name == "loss") text += fmt::format("loss {:.4f}, ", value);
    if (name == "ciede2000") text += fmt::format("CIEDE2000 {:.1f} to the reference, ", value);
    if (name == "loss_style") text += fmt::format("style {:.3f}, ", value);
    if (name == "warping_error") text += fmt::format("warping error {:.2e}, ", value);
  }
  return text + (work.frames > 0 ? "" : done) + duration(work.seconds);
}

nlohmann::json unusualValues(const PastWork& work) {
  nlohmann::json values = nlohmann::json::object();
  for (const SettingText& s : work.settings) {
    if (s.usual) continue;
    if (s.info.number)
      values[s.info.name] = std::stod(s.text);
    else
      values[s.info.name] = s.text;
  }
  return values;
}

nlohmann::json objectOf(const PastWork& work) {
  nlohmann::json object{{"command", work.command},
                        {"recipe", work.recipe.string()},
                        {"there", isThere(work)},
                        {"of", sourceOf(work)},
                        {"after", work.after},
                        {"finished", work.finished},
                        {"seconds", work.seconds},
                        {"settings", unusualValues(work)},
                        {"files", nlohmann::json::array()}};
  for (const fs::path& file : work.results) object["files"].push_back(file.string());
  if (!work.mask.empty()) object["mask"] = work.mask;
  if (!work.held.empty()) object["held"] = work.held;
  if (work.width > 0) {
    object["width"] = work.width;
    object["height"] = work.height;
  }
  if (work.frames > 0) object["frames"] = work.frames;
  for (const auto& [name, value] : work.figures) object[name] = value;
  return object;
}

void tell(const PastWork& work, bool json) {
  if (json) {
    sayJson(stdout, objectOf(work));
    return;
  }
  say(stdout, "{}{}{}\n  {} {}\n  {}\n", nameOf(work).string(), isThere(work) ? "" : " (no longer there)",
      work.finished ? "" : " (unfinished)", work.command, inWords(work), figuresOf(work));
}

// The picture itself, a film's first frame, a series' first picture; empty where it is gone or unreadable.
Image pictureOf(const PastWork& work) {
  if (work.results.empty() || !isThere(work)) return {};
  try {
    if (work.command != "film") return readPicture(work.results[0]).image;
    Image frame;
    if (openClip(work.results[0].string())->read(frame) == FrameState::read) return frame;
  } catch (const Error&) {  // the rest of the sheet is worth having
  }
  return {};
}

void writeSheet(const fs::path& file, const std::string& title, const std::vector<PastWork>& works) {
  std::vector<SheetCell> cells;
  for (const PastWork& work : works) {
    const auto unusual = unusualOf(work.settings);
    cells.push_back({pictureOf(work), nameOf(work).string(),
                     unusual.empty() ? fmt::format("{} {}", linkTo(work), work.after)
                                     : fmt::format("{}", fmt::join(unusual, ", "))});
  }
  SheetOptions options;
  options.title = title;
  options.columns = std::min(4, countOf(cells));
  writePicture(file, contactSheet(cells, options), Depth::eight);
}

PastWork workAt(fs::path file) {
  if (!file.string().ends_with(".toml")) file = recipePathFor(file);
  auto work = pastWork(readRecipe(file), file);
  if (!work) throw Error(fmt::format("{}: tells of no result, it is a preset", file.string()));
  return std::move(*work);
}

int tellDifferences(const std::vector<std::string>& words) {
  if (words.size() != 2)
    throw UsageError("--differs takes two results or recipes: jugendstil history A B --differs");
  const auto all = differences(workAt(words[0]), workAt(words[1]));
  if (all.empty()) say(stdout, "nothing differs: the two are made alike\n");
  for (const std::string& line : all) say(stdout, "{}\n", line);
  return 0;
}

po::options_description historyOptions() {
  auto options = optionGroup("Options");
  options.add_options()("folder", textsValue("DIR"),
                        "the folder with results and their recipes (the plain word)")(
      "of", textValue("paint|grade|film|weave|amplify|dive|learn"), "only what this command made")(
      "after", textValue("WORD"), "only those after a reference whose name holds this")(
      "photo", textValue("WORD"), "only those of a photo or clip whose name holds this")(
      "where", textsValue("SETTING=VALUE"), "only those with this setting; may be given again")(
      "sheet", textValue("FILE.png"), "lay the pictures on a sheet as well")(
      "differs", "say what differs between two results or recipes (the plain words)")(
      "json", "one object a line, for other programs")("force,f", "replace files that exist");
  addHelpOptions(options);
  return options;
}

}  // namespace

CommandHelp historyHelp() {
  return {
      "usage: jugendstil history DIR [options]\n"
      "       jugendstil history A B --differs\n\n"
      "Lists what was painted, graded, filmed and woven into a folder, from the recipes there: the oldest\n"
      "first, with the settings that are not as usual.\n\n"
      "  jugendstil history drafts --after lino --where likeness=20 --sheet lino.png\n"
      "  jugendstil history drafts/bench-1.png drafts/bench-2.png --differs\n",
      {historyOptions()}};
}

int historyCommand(const Words& words) {
  const CommandHelp help = historyHelp();
  po::positional_options_description positions;
  positions.add("folder", -1);
  const auto given = parseWords(words, help.options(), positions, "history");
  if (sayHelpIfAsked(given, help)) return 0;
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
  if (given.count("of") != 0) choiceSetting("--of", textOf(given, "of"), kCommands);
  for (const std::string& word : listOf(given, "where")) requireWhere(word);
  History history = historyOf(folders.front());
  std::erase_if(history.works, [&](const PastWork& w) { return !isWanted(w, given); });
  for (const std::string& why : history.unreadable) say(stderr, "note: left out: {}\n", why);
  for (const PastWork& work : history.works) tell(work, given.count("json") != 0);
  if (history.works.empty()) {
    const bool chosen =
        given.count("after") + given.count("photo") + given.count("where") + given.count("of") != 0;
    say(stderr, "nothing with a recipe in {}{}\n", folders.front(), chosen ? " is like that" : "");
    return 0;
  }
  if (sheet.empty()) return 0;
  writeSheet(sheet, folders.front(), history.works);
  if (given.count("json") == 0)
    say(stdout, "{}: {} result{}\n", sheet.string(), history.works.size(),
        history.works.size() == 1 ? "" : "s");
  return 0;
}

}  // namespace jugendstil::cli
