// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <filesystem>

#include "base/error.h"
#include "cli/dive_job.h"
#include "cli/frame_words.h"
#include "cli/moved_inputs.h"
#include "cli/options.h"
#include "cli/recipe_options.h"
#include "clip/clip.h"
#include "dive/path.h"
#include "recipe/recipe_file.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

const char* const kDiveUsage =
    "usage: jugendstil dive START -o OUT [options]\n\n"
    "A film that falls into itself: each frame is the one before, moved a little nearer and made anew -\n"
    "its patterns amplified, or painted after references. START is a photo, a painting, a clip, noise or\n"
    "grey-noise. What changes over time is given again with the moment before it: --zoom 1.01 --zoom\n"
    "2s=1.04. Stopped at any moment, the same command goes on where it stood.\n\n"
    "  jugendstil dive palm_house.jpg --length 8s --zoom 1.4/s --turn 0.3 -o inside.mkv\n"
    "  jugendstil dive gate.jpg --after poster.jpg --after 4s=evening.jpg --sound song.flac\n"
    "      --follow-sound zoom=bass -o gate_song.mkv\n";

const char* const kRedoUsage =
    "usage: jugendstil redo RECIPE [-o OUT] [options]\n\n"
    "Dives again: the same bytes on the same machine, or a variation where an option is given. Without -o\n"
    "the film goes beside the recipe, with \"-again\" behind its name.\n\n"
    "  jugendstil redo inside.recipe.toml\n"
    "  jugendstil redo inside.recipe.toml --zoom 1.01 --loop -o inside_slow.mkv\n";

po::options_description fileOptions(const char* start, const char* recipe) {
  auto files = optionGroup("Files");
  files.add_options()("start", textValue("START"), start)(
      "after,a", wordsValue("[TIME=]REF..."),
      "paint after these references, all words up to the next option; each may have a share (@3) and the "
      "moment from which it counts (5s=REF)")(
      "with,w", textsValue("[TIME=]PAINTER"),
      "paint at once by this quick painter (NAME.painter.onnx); may be given again for later moments")(
      "towards", referencesValue(), "amplify the patterns of these references")(
      "inside", textValue("MASK"),
      "made anew only where the mask is white, as it lies over the frame; elsewhere it is only moved")(
      "outside", textValue("MASK"), "made anew only where the mask is black")(
      "sound", textValue("FILE"), "laid under the film, and followed where --follow-sound says so")(
      "path", textValue("FILE.toml"),
      "how it moves and changes: keys in a small file, in place of options (docs/dive.md)")(
      "output,o", textValue("OUT"),
      "what to write: .mkv (FFV1, lossless), .mp4 or .mov (H.264), .webm (VP9), shot_%05d.png (frames)")(
      "recipe", textValue("RECIPE"), recipe)("network", textValue("FILE.onnx"),
                                             "another feature network (ONNX)");
  return files;
}

// Those that change over time may be given several times.
std::vector<po::options_description> settings() {
  std::vector<SettingInfo> once;
  po::options_description timed = optionGroup("Over time (each may be given again, like 2s=VALUE)");
  for (const SettingInfo& info : diveSettingTable()) {
    if (changesOverTime(info.name))
      timed.add_options()(info.name.c_str(), textsValue(info.value), info.help.c_str());
    else
      once.push_back(info);
  }
  return {timed, settingOptions("Settings (each can also stand in a recipe)", once)};
}

std::vector<po::options_description> allOptions(const char* start, const char* recipe) {
  std::vector<po::options_description> all{fileOptions(start, recipe)};
  for (const po::options_description& group : settings()) all.push_back(group);
  all.push_back(reportOptions());
  return all;
}

// TIME=FILE, or FILE. A file that is called like that with the = wins.
Key<std::string> timedWord(const std::string& word) {
  std::error_code code;
  return fs::exists(word, code) ? Key<std::string>{"", word} : keyIn(word);
}

void takeFiles(const po::variables_map& given, DiveRecipe& recipe) {
  if (given.count("start") != 0) {
    const std::string word = textOf(given, "start");
    std::error_code code;
    const bool noise = (word == "noise" || word == "grey-noise") && !fs::exists(word, code);
    recipe.noise = noise ? word : "";
    recipe.start = noise ? std::nullopt : std::optional(inputNamed(word));
  }
  if (given.count("after") != 0) recipe.references.clear();
  for (const std::string& word : listOf(given, "after")) {
    const Key<std::string> timed = timedWord(word);
    const ReferenceWord reference = parseReference(timed.value);
    recipe.references.push_back({timed.at, inputNamed(reference.path, reference.share)});
  }
  if (given.count("with") != 0) recipe.painters.clear();
  for (const std::string& word : listOf(given, "with")) {
    const Key<std::string> timed = timedWord(word);
    recipe.painters.push_back({timed.at, inputNamed(timed.value)});
  }
  if (given.count("towards") != 0) recipe.towards.clear();
  for (const std::string& word : listOf(given, "towards")) {
    const ReferenceWord reference = parseReference(word, "--towards");
    recipe.towards.push_back(inputNamed(reference.path, reference.share));
  }
  if (auto mask = givenMask(given)) recipe.mask = std::move(mask);
  if (given.count("sound") != 0) recipe.sound = inputNamed(textOf(given, "sound"));
  recipe.network = networkFor(given, recipe.network);
}

void takeSettings(const po::variables_map& given, DiveSettings& settings) {
  std::vector<std::string> byPath;
  if (given.count("path") != 0) {
    const std::string file = textOf(given, "path");
    byPath = takePath(settings, readRecipe(file), file);
  }
  std::vector<SettingInfo> once;
  for (const SettingInfo& info : diveSettingTable()) {
    if (given.count(info.name) != 0 && std::find(byPath.begin(), byPath.end(), info.name) != byPath.end())
      throw UsageError(fmt::format("--path and --{0} both say {0}; leave one out", info.name));
    if (!changesOverTime(info.name)) once.push_back(info);
  }
  applyGiven(given, once,
             [&](const std::string& name, const std::string& text) { setDiveSetting(settings, name, text); });
  for (const SettingInfo& info : diveSettingTable()) {
    if (!changesOverTime(info.name) || given.count(info.name) == 0) continue;
    try {
      setDiveSetting(settings, info.name,
                     fmt::format("{}", fmt::join(listOf(given, info.name.c_str()), "; ")));
    } catch (const UsageError& e) {
      throw UsageError(fmt::format("--{}", e.what()));
    }
  }
}

// Where nothing says by what frames are made, what was given does.
void chooseWay(const po::variables_map& given, DiveRecipe& recipe) {
  if (given.count("by") != 0) return;
  if (given.count("with") != 0)
    recipe.settings.by = DiveBy::quick;
  else if (given.count("after") != 0)
    recipe.settings.by = DiveBy::paint;
  else if (given.count("towards") != 0)
    recipe.settings.by = DiveBy::amplify;
}

void requireSense(const po::variables_map& given, const DiveJob& job) {
  const DiveRecipe& r = job.recipe;
  const DiveBy by = r.settings.by;
  if (!r.start && r.noise.empty())
    throw UsageError(
        "dive needs a start: jugendstil dive START -o OUT.mkv (a photo, a clip, noise or grey-noise)");
  if (job.output.empty()) throw UsageError("dive needs a place for the result: add -o OUT.mkv");
  if (job.output == "-") throw UsageError("a dive is written to a file; name one, like -o OUT.mkv");
  if (by == DiveBy::amplify && given.count("after") != 0)
    throw UsageError("--after is of painting; the patterns of a reference are amplified by --towards REF");
  if (by == DiveBy::paint && r.references.empty())
    throw UsageError("a painted dive needs a reference: add --after REF");
  if (by == DiveBy::quick && r.references.empty() && r.painters.empty())
    throw UsageError(
        "a dive by a quick painter needs one: add --with PAINTER, or --after REF for the general one");
  if (by != DiveBy::quick && given.count("with") != 0)
    throw UsageError("--with is a quick painter; leave out --by, or say --by quick");
  for (const char* name : {"towards", "band", "pattern", "channels"}) {
    if (by != DiveBy::amplify && given.count(name) != 0)
      throw UsageError(fmt::format("--{} is of amplifying, and this dive is painted", name));
  }
  if (!r.settings.follow.empty() && !r.sound)
    throw UsageError("--follow-sound needs a sound to follow: add --sound FILE");
  if (given.count("source") != 0 && (!r.start || !isClipName(r.start->path.string())))
    throw UsageError("--source mixes a clip's frames in, and the start is none");
}

DiveJob jobFrom(DiveRecipe recipe, const po::variables_map& given) {
  takeSettings(given, recipe.settings);
  settleThreads(recipe.settings.painting());
  takeFiles(given, recipe);
  chooseWay(given, recipe);
  DiveJob job;
  static_cast<RunOptions&>(job) = runOptionsOf(given);
  job.recipe = std::move(recipe);
  job.output = textOf(given, "output");
  return job;
}

int run(DiveJob job, const po::variables_map& given) {
  requireSense(given, job);
  job.makesFolder = meansFolder(job.output);
  if (job.makesFolder) job.output = (fs::path(job.output) / "frame_%05d.png").string();
  return runDiveJob(std::move(job));
}

}  // namespace

CommandHelp diveHelp() {
  return {kDiveUsage,
          allOptions("what it falls into (the first plain word): a picture, a clip, noise or grey-noise",
                     "take settings and references from a recipe of a dive; options given here win")};
}

int diveCommand(const Words& words) {
  const CommandHelp help = diveHelp();
  po::positional_options_description positions;
  positions.add("start", 1);
  const auto given = parseWords(words, help.options(), positions, "dive");
  if (sayHelpIfAsked(given, help)) return 0;
  DiveRecipe recipe;
  if (given.count("recipe") != 0) {
    const std::string file = textOf(given, "recipe");
    recipe = parseDiveRecipe(readRecipe(file), file);
    recipe.result.reset();
    recipe.start.reset();
    recipe.noise.clear();
  }
  takeDefaults("dive", diveSettingTable(), given, recipe.given,
               [&](const std::string& name, const std::string& value) {
                 setDiveSetting(recipe.settings, name, value);
               });
  DiveJob job = jobFrom(std::move(recipe), given);
  if (given.count("recipe") != 0) findMovedInputs(job.recipe, textOf(given, "recipe"), job.quiet);
  return run(std::move(job), given);
}

CommandHelp redoDiveHelp() {
  return {kRedoUsage,
          allOptions("another start, or where it lies now", "the recipe of a dive (the first plain word)")};
}

int redoDive(const Words& words) {
  const CommandHelp help = redoDiveHelp();
  po::positional_options_description positions;
  positions.add("recipe", 1);
  const auto given = parseWords(words, help.options(), positions, "redo");
  if (sayHelpIfAsked(given, help)) return 0;
  const fs::path file = textOf(given, "recipe");
  DiveRecipe recipe = parseDiveRecipe(readRecipe(file), file);
  if (recipe.result) noteVersion(recipe.result->version, given.count("quiet") != 0);
  recipe.result.reset();
  const fs::path film = fs::path(recipe.film).filename();
  DiveJob job = jobFrom(std::move(recipe), given);
  findMovedInputs(job.recipe, file, job.quiet);
  if (job.output.empty() && !film.empty() && !isFramePattern(film.string()))
    job.output = againName(file, film).string();
  return run(std::move(job), given);
}

}  // namespace jugendstil::cli
