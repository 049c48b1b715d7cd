// SPDX-License-Identifier: Apache-2.0
#include "cli/dive_job.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/parallel.h"
#include "cli/dive_inputs.h"
#include "cli/film_display.h"
#include "cli/film_places.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "clip/clip_writer.h"
#include "film/film_recipe.h"
#include "film/journal.h"
#include "recipe/recipe_words.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

std::string timedWords(const std::vector<TimedInput>& inputs) {
  std::vector<std::string> words;
  for (const TimedInput& one : inputs)
    words.push_back(one.file.path.filename().string() + (one.at.empty() ? "" : " from " + one.at));
  return fmt::format("{}", fmt::join(words, ", "));
}

std::string wayWords(const DiveRecipe& recipe) {
  const std::string after = timedWords(recipe.references);
  switch (recipe.settings.by) {
    case DiveBy::paint:
      return "painted after " + after;
    case DiveBy::quick:
      return recipe.painters.empty() ? "painted at once after " + after
                                     : "painted by " + timedWords(recipe.painters);
    case DiveBy::amplify:
      break;
  }
  return "amplified, band " + diveSettingText(recipe.settings, "band");
}

std::string planLine(const DiveRecipe& recipe, const DivePlan& plan) {
  std::string line = fmt::format("diving into {}: {} frame{} at {}x{}, {:.3g} a second, {}",
                                 recipe.start ? recipe.start->path.filename().string() : recipe.noise,
                                 plan.film, plan.film == 1 ? "" : "s", plan.size.width, plan.size.height,
                                 plan.rate.value(), wayWords(recipe));
  if (recipe.mask) line += ", " + maskWords(recipe.mask);
  if (recipe.sound) line += ", sound " + recipe.sound->path.filename().string();
  return line;
}

void tellPlan(const DiveJob& job, const DiveFiles& files, const DivePlan& plan) {
  say(stdout, "{}\n", planLine(job.recipe, plan));
  tellSettings(settingsOf(job.recipe));
  if (plan.overlap() > 0)
    say(stdout, "  {} frames more for the loop: its end fades into its beginning\n", plan.overlap());
  say(stdout, "memory: about {} MB\n", plan.memory >> 20);
  say(stdout, "disk while working: about {:.0f} MB in {}\n",
      static_cast<double>(plan.frames.size()) * plan.worked.width * plan.worked.height * 2.2 / 1e6,
      workFolderFor(job.output).string());
  const DiveTime time = diveTime(job.recipe, files, plan);
  say(stdout, "time: about {}, {:.0f} frames an hour ({})\n", duration(time.seconds),
      static_cast<double>(plan.frames.size()) / time.seconds * 3600,
      time.known ? "from earlier dives on this machine" : "roughly; the first dive here will tell");
  say(stdout, "would write {} and {}\n", job.output, filmRecipePathFor(job.output).string());
}

void requirePlaces(const DiveJob& job) {
  const ClipCodec codec = codecForName(job.output);
  const std::string& asked = job.recipe.settings.codec;
  if (asked != "auto") requireCodecFits(job.output, codecFromWord(asked));
  if (!isFramePattern(job.output)) requireFree(job.output, job.force);
  requireFree(filmRecipePathFor(job.output), job.force);
  if (job.recipe.start) requireOther(job.output, job.recipe.start->path);
  if (job.recipe.mask) requireOther(job.output, job.recipe.mask->file.path);
  if (job.recipe.sound) {
    requireOther(job.output, job.recipe.sound->path);
    std::error_code code;
    if (!fs::exists(job.recipe.sound->path, code))
      throw Error(fmt::format("there is no sound file {}", job.recipe.sound->path.string()));
  }
  requirePlace(isFramePattern(job.output) ? frameName(job.output, 0) : job.output, job.makesFolder);
  if (job.recipe.sound && codec != ClipCodec::y4m && codec != ClipCodec::png)
    requireSoundFits(job.output, job.recipe.sound->path.string());
}

// Before hours of work: is the work folder ours?
void requireReady(const DiveJob& job, const std::string& making) {
  requireFreeFrames(job.output, making, job.force);
  requireOwnWork(job.output, making, job.force);
}

void writeRecipe(const DiveJob& job, const DiveResult& result, double seconds) {
  DiveRecipe recipe = job.recipe;
  recipe.film = fs::path(job.output).filename().string();
  recipe.result = DiveRecipeResult{JUGENDSTIL_VERSION, result.size.width,         result.size.height,
                                   result.frames,      std::ssize(result.filled), seconds};
  const fs::path file = filmRecipePathFor(job.output);
  writeFileAtomically(file, diveRecipeText(recipe, fs::absolute(file).parent_path()));
}

void tellTrouble(const DiveResult& result) {
  if (!result.retried.empty())
    say(stderr, "tried again: frame{} {}\n", result.retried.size() == 1 ? "" : "s",
        frameList(result.retried));
  if (!result.filled.empty())
    say(stderr, "note: frame{} {} could not be made and {} only moved\n",
        result.filled.size() == 1 ? "" : "s", frameList(result.filled),
        result.filled.size() == 1 ? "is" : "are");
}

int tellResult(const DiveJob& job, const DiveResult& result, double seconds) {
  if (job.progress == ProgressStyle::json) {
    sayJson(stdout, {{"event", result.finished ? "done" : "stopped"},
                     {"file", job.output},
                     {"width", result.size.width},
                     {"height", result.size.height},
                     {"frames", result.finished ? result.frames : result.done},
                     {"retried", result.retried},
                     {"filled", result.filled},
                     {"seconds", seconds}});
  } else if (result.finished) {
    say(stdout, "{}: {}x{}, {} frame{}, made in {}\n", job.output, result.size.width, result.size.height,
        result.frames, result.frames == 1 ? "" : "s", duration(seconds));
  } else {
    say(stdout,
        "{}: stopped after {} frame{}, kept in {} to be looked at; the same command goes on from there\n",
        job.output, result.done, result.done == 1 ? "" : "s", workFolderFor(job.output).string());
  }
  return result.finished ? 0 : 130;
}

}  // namespace

int runDiveJob(DiveJob job) {
  requirePlaces(job);
  setThreads(job.recipe.settings.painting().threads);
  DiveFiles files;
  readDive(job.recipe, job.output, job.quiet, files);
  files.inputs.making = diveMaking(job.recipe, job.output);
  // A run that was begun with --force and stopped goes on with it, too.
  files.inputs.anew = job.force && holdsOtherWork(workFolderFor(job.output), files.inputs.making);
  const DivePlan plan = planDive(files.inputs);
  requireReady(job, files.inputs.making);
  if (job.dryRun) {
    tellPlan(job, files, plan);
    return 0;
  }
  if (job.makesFolder) makeFolderFor(job.output);
  if (job.tells())
    say(stderr, "{}, about {}\n", planLine(job.recipe, plan),
        duration(diveTime(job.recipe, files, plan).seconds));
  const ClipCodec codec = codecForName(job.output);
  if (job.tells() && job.recipe.sound && (codec == ClipCodec::png || codec == ClipCodec::y4m))
    say(stderr, "note: {} holds no sound; it is only followed\n", job.output);
  FilmDisplay display(job.progress);
  const DiveResult result = withKeptFrames(
      job.output, display, [&](const FilmCallbacks& callbacks) { return makeDive(files.inputs, callbacks); });
  const double seconds = display.seconds();
  if (result.finished) {
    if (result.kept == 0) learnDiveTime(job.recipe, files, plan, seconds);
    writeRecipe(job, result, seconds);
    if (!job.quiet) tellTrouble(result);
  }
  return tellResult(job, result, seconds);
}

}  // namespace jugendstil::cli
