// SPDX-License-Identifier: Apache-2.0
#include "history/past_work.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "recipe/recipe_file.h"
#include "recipe/recipe_words.h"

namespace jugendstil {
namespace {

namespace fs = std::filesystem;

void add(PastWork& work, const char* role, const RecipeInput& input) {
  work.inputs.push_back({role, input.path.filename().string(), input.checksum});
}

void add(PastWork& work, const char* role, const std::optional<RecipeInput>& input) {
  if (input) add(work, role, *input);
}

template <typename Recipe>
void addReferences(PastWork& work, const Recipe& recipe) {
  for (const RecipeInput& r : recipe.references) add(work, "reference", r);
}

void addParts(PastWork& work, const std::vector<RecipePart>& parts, const std::optional<RecipeMask>& mask) {
  for (const RecipePart& part : parts) {
    add(work, "mask", part.mask);
    add(work, "reference", part.reference);
  }
  if (mask) add(work, "mask", mask->file);
  work.mask = maskWords(mask);
}

void takeResult(PastWork& work, const PieceResult& result) {
  work.version = result.version;
  work.width = result.width;
  work.height = result.height;
  work.seconds = result.seconds;
}

std::optional<PastWork> workOf(const PaintRecipe& recipe, const fs::path& folder) {
  if (!recipe.result) return std::nullopt;
  PastWork work;
  work.results = {folder / recipe.picture};
  add(work, "photo", recipe.photo);
  addReferences(work, recipe);
  addParts(work, recipe.parts, recipe.mask);
  for (const RecipeHold& hold : recipe.holds) add(work, "mask", hold.mask);
  add(work, "lines", recipe.drawnLines);
  add(work, "mask", recipe.linesInside);
  work.held = holdWords(recipe.holds);
  add(work, "painter", recipe.painter);
  add(work, "start", recipe.start);
  add(work, "network", recipe.network);
  work.after = afterWords(recipe);
  work.settings = settingsOf(recipe);
  const RecipeResult& r = *recipe.result;
  work.version = r.version;
  work.finished = r.finished;
  work.width = r.width;
  work.height = r.height;
  work.seconds = r.seconds;
  work.figures = {{"loss", r.loss.total()}};
  return work;
}

std::optional<PastWork> workOf(const GradeRecipe& recipe, const fs::path& folder) {
  if (!recipe.result) return std::nullopt;
  PastWork work;
  for (const GradedPhoto& p : recipe.photos) {
    work.results.push_back(folder / p.result);
    add(work, "photo", p.photo);
  }
  addReferences(work, recipe);
  add(work, "look", recipe.look);
  addParts(work, recipe.parts, recipe.mask);
  work.after = recipe.look ? referenceWords({*recipe.look}, recipe.parts)
                           : referenceWords(recipe.references, recipe.parts);
  work.settings = settingsOf(recipe);
  const GradeRecipeResult& r = *recipe.result;
  work.version = r.version;
  work.finished = r.finished;
  work.seconds = r.seconds;
  if (r.distance) work.figures = {{"ciede2000", (*r.distance)[1]}};
  return work;
}

std::optional<PastWork> workOf(const FilmRecipe& recipe, const fs::path& folder) {
  if (!recipe.result) return std::nullopt;
  PastWork work;
  work.results = {folder / recipe.film};
  add(work, "clip", recipe.clip);
  addReferences(work, recipe);
  add(work, "painter", recipe.painter);
  add(work, "look", recipe.look);
  for (const FrameInput& key : recipe.keys) add(work, "key", key.file);
  for (const FrameInput& mask : recipe.masks) add(work, "mask", mask.file);
  add(work, "mask", recipe.maskClip);
  for (const RecipeHold& hold : recipe.holds) add(work, "mask", hold.mask);
  work.held = holdWords(recipe.holds);
  add(work, "start", recipe.start);
  add(work, "network", recipe.network);
  work.after = afterWords(recipe);
  if (!recipe.masks.empty()) work.mask = maskWords(RecipeMask{recipe.masks[0].file, recipe.maskInside});
  if (recipe.maskClip) work.mask = maskWords(RecipeMask{*recipe.maskClip, recipe.maskInside});
  work.settings = settingsOf(recipe);
  const FilmRecipeResult& r = *recipe.result;
  work.version = r.version;
  work.width = r.width;
  work.height = r.height;
  work.frames = static_cast<int>(r.frames);
  work.seconds = r.seconds;
  if (r.sourceError > 0) work.figures = {{"warping_error", r.error}, {"source_warping_error", r.sourceError}};
  return work;
}

std::optional<PastWork> workOf(const WeaveRecipe& recipe, const fs::path& folder) {
  if (!recipe.result) return std::nullopt;
  PastWork work;
  work.results = {folder / recipe.piece};
  add(work, "photo", recipe.picture);
  for (const RecipeInput& swatch : recipe.swatches) add(work, "swatch", swatch);
  add(work, "mask", recipe.hole);
  add(work, "map", recipe.over);
  add(work, "layout", recipe.layout);
  add(work, "map", recipe.layoutMap);
  add(work, "photo", recipe.along);
  addParts(work, recipe.parts, recipe.mask);
  work.after = referenceWords(recipe.swatches, recipe.parts);
  if (recipe.along) work.after += " along " + recipe.along->path.filename().string();
  if (recipe.layout) work.after += " along " + recipe.layout->path.filename().string();
  if (recipe.hole) work.mask = "where " + recipe.hole->path.filename().string() + " is white";
  work.settings = settingsOf(recipe);
  takeResult(work, *recipe.result);
  return work;
}

std::optional<PastWork> workOf(const AmplifyRecipe& recipe, const fs::path& folder) {
  if (!recipe.result) return std::nullopt;
  PastWork work;
  work.results = {folder / recipe.picture};
  add(work, "photo", recipe.photo);
  for (const RecipeInput& r : recipe.towards) add(work, "reference", r);
  addParts(work, {}, recipe.mask);
  add(work, "network", recipe.network);
  work.after = referenceWords(recipe.towards);
  work.settings = settingsOf(recipe);
  takeResult(work, *recipe.result);
  return work;
}

std::optional<PastWork> workOf(const DiveRecipe& recipe, const fs::path& folder) {
  if (!recipe.result) return std::nullopt;
  PastWork work;
  work.results = {folder / recipe.film};
  add(work, "photo", recipe.start);
  std::vector<RecipeInput> after = recipe.towards;
  for (const TimedInput& one : recipe.references) after.push_back(one.file);
  for (const RecipeInput& r : after) add(work, "reference", r);
  for (const TimedInput& one : recipe.painters) add(work, "painter", one.file);
  addParts(work, {}, recipe.mask);
  add(work, "sound", recipe.sound);
  add(work, "network", recipe.network);
  for (const TimedInput& one : recipe.painters) after.push_back(one.file);
  work.after = referenceWords(after);
  work.settings = settingsOf(recipe);
  const DiveRecipeResult& r = *recipe.result;
  work.version = r.version;
  work.width = r.width;
  work.height = r.height;
  work.frames = static_cast<int>(r.frames);
  work.seconds = r.seconds;
  return work;
}

std::optional<PastWork> workOf(const LearnRecipe& recipe, const fs::path& folder) {
  if (!recipe.result) return std::nullopt;
  PastWork work;
  work.results = {folder / recipe.painter};
  addReferences(work, recipe);
  for (const RecipeInput& photo : recipe.photos) add(work, "photo", photo);
  add(work, "clip", recipe.clip);
  for (const ShownInput& shown : recipe.shown) {
    add(work, "photo", shown.photo);
    add(work, "key", shown.painting);
  }
  add(work, "network", recipe.network);
  work.after = referenceWords(recipe.references);
  work.settings = settingsOf(recipe);
  const LearnRecipeResult& r = *recipe.result;
  work.version = r.version;
  work.finished = r.finished;
  work.seconds = r.seconds;
  work.figures = {{"loss_style", r.style}, {"loss_content", r.content}};
  return work;
}

// The table of a setting of that name, as its command has it.
std::optional<std::string> textAsSet(const std::string& command, std::string_view name,
                                     std::string_view value) {
  const auto has = [&](const std::vector<SettingInfo>& table) {
    return std::any_of(table.begin(), table.end(), [&](const SettingInfo& i) { return i.name == name; });
  };
  if (command == "grade") {
    if (!has(gradeSettingTable())) return std::nullopt;
    GradeSettings settings;
    setGradeSetting(settings, name, value);
    return gradeSettingText(settings, name);
  }
  if (command == "weave") {
    if (!has(weaveSettingTable())) return std::nullopt;
    WeaveSettings settings;
    setWeaveSetting(settings, name, value);
    return weaveSettingText(settings, name);
  }
  if (command == "amplify") {
    if (!has(amplifySettingTable())) return std::nullopt;
    AmplifySettings settings;
    setAmplifySetting(settings, name, value);
    return amplifySettingText(settings, name);
  }
  if (command == "dive") {
    if (!has(diveSettingTable())) return std::nullopt;
    DiveSettings settings;
    setDiveSetting(settings, name, value);
    return diveSettingText(settings, name);
  }
  if (command == "learn") {
    if (!has(learnSettingTable())) return std::nullopt;
    LearnSettings settings;
    setLearnSetting(settings, name, value);
    return learnSettingText(settings, name);
  }
  if (command == "film" && has(filmSettingTable())) {
    FilmSettings settings;
    setFilmSetting(settings, name, value);
    return filmSettingText(settings, name);
  }
  if (!has(paintSettingTable())) return std::nullopt;
  PaintSettings settings;
  setPaintSetting(settings, name, value);
  return paintSettingText(settings, name);
}

const SettingText* settingNamed(const PastWork& work, std::string_view name) {
  const auto found = std::find_if(work.settings.begin(), work.settings.end(),
                                  [&](const SettingText& s) { return s.info.name == name; });
  return found == work.settings.end() ? nullptr : &*found;
}

std::vector<PastInput> inputsOf(const PastWork& work, const std::string& role) {
  std::vector<PastInput> all;
  std::copy_if(work.inputs.begin(), work.inputs.end(), std::back_inserter(all),
               [&](const PastInput& i) { return i.role == role; });
  return all;
}

std::string namesOf(const std::vector<PastInput>& inputs) {
  std::string text;
  for (const PastInput& i : inputs) text += (text.empty() ? "" : " and ") + i.name;
  return text.empty() ? "none" : text;
}

// By name, and by content where the names are the same. References and masks are told with their shares and
// sides elsewhere.
void addFiles(const PastWork& a, const PastWork& b, std::vector<std::string>& all) {
  for (const char* role : {"photo", "clip", "reference", "swatch", "look", "layout", "map", "mask", "key",
                           "painter", "start", "sound", "network"}) {
    const auto left = inputsOf(a, role);
    const auto right = inputsOf(b, role);
    const std::string_view name = role;
    if (namesOf(left) != namesOf(right)) {
      if (name != "reference" && name != "swatch" && name != "mask" && name != "look")
        all.push_back(fmt::format("{}: {} / {}", role, namesOf(left), namesOf(right)));
      continue;
    }
    for (std::size_t i = 0; i < left.size(); ++i) {
      if (left[i].checksum != right[i].checksum)
        all.push_back(fmt::format("{}: {}, with another content", role, left[i].name));
    }
  }
}

std::string orNone(const std::string& text) { return text.empty() ? "none" : text; }

}  // namespace

std::optional<PastWork> pastWork(std::string_view text, const fs::path& recipe) {
  const std::string command = recipeCommand(text, recipe);
  const fs::path folder = recipe.parent_path();
  std::optional<PastWork> work = command == "grade"     ? workOf(parseGradeRecipe(text, recipe), folder)
                                 : command == "film"    ? workOf(parseFilmRecipe(text, recipe), folder)
                                 : command == "weave"   ? workOf(parseWeaveRecipe(text, recipe), folder)
                                 : command == "amplify" ? workOf(parseAmplifyRecipe(text, recipe), folder)
                                 : command == "dive"    ? workOf(parseDiveRecipe(text, recipe), folder)
                                 : command == "learn"   ? workOf(parseLearnRecipe(text, recipe), folder)
                                                        : workOf(parsePaintRecipe(text, recipe), folder);
  if (!work) return std::nullopt;
  work->recipe = recipe;
  work->command = command;
  return work;
}

const char* linkTo(const PastWork& work) {
  if (work.command == "amplify") return work.after.empty() ? "by its own patterns" : "towards";
  if (work.command == "dive") return work.after.empty() ? "by its own patterns" : "after";
  if (work.command != "weave") return "after";
  if (work.mask.empty()) return "from";
  return work.after.empty() ? "filled" : "filled from";
}

bool hasSetting(const PastWork& work, std::string_view name, std::string_view value) {
  const auto wanted = textAsSet(work.command, name, value);
  const SettingText* setting = settingNamed(work, name);
  return wanted && setting != nullptr && setting->text == *wanted;
}

void requireSettingName(std::string_view name) {
  std::vector<std::string> known;
  for (const auto* table :
       {&paintSettingTable(), &filmSettingTable(), &gradeSettingTable(), &weaveSettingTable(),
        &amplifySettingTable(), &diveSettingTable(), &learnSettingTable()}) {
    for (const SettingInfo& info : *table) {
      if (info.name == name) return;
      known.push_back(info.name);
    }
  }
  refuseName(name, known);
}

std::vector<std::string> differences(const PastWork& a, const PastWork& b) {
  std::vector<std::string> all;
  const auto tell = [&](const char* what, const std::string& left, const std::string& right) {
    if (left != right) all.push_back(fmt::format("{}: {} / {}", what, orNone(left), orNone(right)));
  };
  tell("command", a.command, b.command);
  tell("after", a.after, b.after);
  tell("mask", a.mask, b.mask);
  tell("held", a.held, b.held);
  addFiles(a, b, all);
  for (const SettingText& s : a.settings) {
    if (const SettingText* other = settingNamed(b, s.info.name))
      tell(s.info.name.c_str(), s.text, other->text);
  }
  tell("version", a.version, b.version);
  return all;
}

}  // namespace jugendstil
