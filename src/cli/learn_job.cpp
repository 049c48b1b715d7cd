// SPDX-License-Identifier: Apache-2.0
#include "cli/learn_job.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <chrono>
#include <nlohmann/json.hpp>

#include "base/checksum.h"
#include "base/error.h"
#include "base/file_name.h"
#include "base/number.h"
#include "base/parallel.h"
#include "base/state_file.h"
#include "cli/calibration.h"
#include "cli/interrupt.h"
#include "cli/learn_inputs.h"
#include "cli/learn_lesson.h"
#include "cli/options.h"
#include "cli/paint_state.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "cli/vary.h"
#include "image/picture_file.h"
#include "learn/paint_at_once.h"
#include "learn/quick_painter.h"
#include "recipe/recipe_file.h"
#include "recipe/recipe_words.h"
#include "recipe/recipe_writer.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

constexpr int kTrialSteps = 3;
constexpr std::size_t kMostPainters = 50;

std::string lessonWords(const LearnRecipe& recipe, const LearnFiles& files) {
  std::string words =
      recipe.clip ? fmt::format("{} pairs of frames of {}", files.inputs.pairs.size(),
                                recipe.clip->path.filename().string())
                  : fmt::format("{} photo{}", recipe.photos.size(), recipe.photos.size() == 1 ? "" : "s");
  if (!recipe.shown.empty())
    words +=
        fmt::format(" and {} painted example{}", recipe.shown.size(), recipe.shown.size() == 1 ? "" : "s");
  return words;
}

std::string planLine(const LearnRecipe& recipe, const LearnFiles& files) {
  return fmt::format("learning {} on {}, for pictures of {} pixels: {} steps",
                     referenceWords(recipe.references, {}), lessonWords(recipe, files),
                     recipe.settings.longEdge, recipe.settings.steps);
}

std::string calibrationKeyOf(const LearnRecipe& recipe) {
  return fmt::format("{} | learn", calibrationKey(recipe.settings.painting, recipe.network->checksum));
}

// Of a piece.
double pixelsOf(const LearnRecipe& recipe, const LearnFiles& files) {
  const double side = sideOfPieces(files.inputs, recipe.settings);
  return side * side;
}

// Seconds that a step of these lessons takes; in proportion to a piece's pixels.
double secondsPerStep(const LearnRecipe& recipe, const LearnFiles& files) {
  const fs::path cache = calibrationFile();
  const std::string key = calibrationKeyOf(recipe);
  const double pixels = pixelsOf(recipe, files);
  if (const auto known = knownRate(cache, key)) return *known * pixels;
  Learner trial(files.chain, files.inputs, recipe.settings);
  trial.step();  // getting ready is not counted
  const auto begin = Clock::now();
  for (int i = 0; i < kTrialSteps; ++i) trial.step();
  const double rate = std::chrono::duration<double>(Clock::now() - begin).count() / kTrialSteps;
  keepRate(cache, key, rate / pixels);
  return rate;
}

void requireNames(const LearnJob& job) {
  if (extensionOf(job.output) != ".onnx")
    throw UsageError(
        fmt::format("{} is no name for a painter; name it NAME.painter.onnx", job.output.string()));
  const auto other = [&](const RecipeInput& input) { requireOther(job.output, input.path); };
  for (const RecipeInput& r : job.recipe.references) other(r);
  other(*job.recipe.network);
}

void requireFreeOutputs(const LearnJob& job) {
  requireFree(job.output, job.force);
  requireFree(recipePathFor(job.output), job.force);
  requireFree(stripPath(job.output), job.force);
}

int tellPlan(const LearnJob& job, const LearnFiles& files, double rate) {
  say(stdout, "{}\n", planLine(job.recipe, files));
  tellInputs(job.recipe.references, {}, std::nullopt);
  for (const RecipeInput& photo : job.recipe.photos) say(stdout, "  on {}\n", photo.path.string());
  if (job.recipe.clip) say(stdout, "  on {}\n", job.recipe.clip->path.string());
  for (const ShownInput& shown : job.recipe.shown)
    say(stdout, "  shown {} as {}\n",
        shown.photo ? shown.photo->path.string() : fmt::format("frame {}", shown.frame),
        shown.painting.path.string());
  tellSettings(settingsOf(job.recipe));
  say(stdout, "memory: about {} MB\n", memoryToLearn(files.chain, files.inputs, job.recipe.settings) >> 20);
  say(stdout, "time: about {}\n", duration(rate * job.recipe.settings.steps));
  say(stdout, "would write {}, {} and {}\n", job.output.string(), recipePathFor(job.output).string(),
      stripPath(job.output).string());
  return 0;
}

void tellResult(const LearnJob& job, const Lesson& lesson, bool finished, double seconds) {
  const fs::path recipe = recipePathFor(job.output);
  if (job.progress == ProgressStyle::json) {
    sayJson(stdout, {{"event", finished ? "done" : "stopped"},
                     {"file", job.output.string()},
                     {"recipe", recipe.string()},
                     {"steps", lesson.stepsDone()},
                     {"seconds", seconds}});
    return;
  }
  if (finished) {
    say(stdout, "{}: learned in {}; how it went: {}\n", job.output.string(), duration(seconds),
        stripPath(job.output).string());
    if (!job.quiet)
      say(stdout, "to paint with it: jugendstil paint PHOTO --with {} -o OUT.png\n", job.output.string());
    return;
  }
  say(stdout, "{}: stopped at step {} of {}, after {}; it paints as well as it has learned by now\n",
      job.output.string(), lesson.stepsDone(), job.recipe.settings.steps, duration(seconds));
  if (lesson.notKept().empty())
    say(stdout, "to go on from there: jugendstil redo {}\n", recipe.string());
  else
    say(stderr, "note: its state could not be kept: {}\n", lesson.notKept());
}

}  // namespace

bool goesOn(const LearnRecipe& recipe, const fs::path& output, bool mayReplace) {
  return goesOn(
      output, mayReplace, [&] { return makingOf(recipe); },
      [](const fs::path& file) {
        const LearnRecipe known = parseLearnRecipe(readRecipe(file), file);
        return known.result && !known.result->finished;
      });
}

namespace {

int learnOne(const LearnJob& asked) {
  LearnJob job = asked;
  requireNames(job);
  const bool again = goesOn(job.recipe, job.output, job.force);
  if (!again) {
    requireNoOtherState(job.output, job.force, "painter");
    requireFreeOutputs(job);
  }
  requirePlace(job.output, job.makesFolder);
  setThreads(job.recipe.settings.painting.threads);
  const LearnFiles files = readLearn(job.recipe, job.quiet);
  const double rate = secondsPerStep(job.recipe, files);
  if (job.dryRun) return tellPlan(job, files, rate);
  if (job.makesFolder) makeFolderFor(job.output);
  ProgressDisplay display(job.progress);
  const InterruptWatch interrupt;
  Lesson lesson(job, files, display);
  if (job.tells())
    say(stderr, "{}, about {}\n", planLine(job.recipe, files), duration(rate * job.recipe.settings.steps));
  if (again) lesson.resume();
  const bool finished = lesson.run(interrupt, rate);
  display.finish();
  const double seconds = display.seconds();
  lesson.write(finished);
  if (finished && !again)
    learnRate(calibrationFile(), calibrationKeyOf(job.recipe),
              seconds / job.recipe.settings.steps / pixelsOf(job.recipe, files), seconds);
  tellResult(job, lesson, finished, seconds);
  return finished ? 0 : 130;
}

// One job for each combination of values.
std::vector<LearnJob> variations(const LearnJob& job) {
  LearnSettings trial;
  const auto attempt = [&](const std::string& setting, const std::string& value) {
    setLearnSetting(trial, setting, value);
  };
  std::vector<LearnJob> jobs;
  const std::string stem = job.recipe.references.front().path.stem().string();
  for (const Variation& variation : variationsOf(job.vary, stem, kMostPainters, "painters", attempt)) {
    LearnJob one = job;
    one.vary.clear();
    for (const auto& [setting, value] : variation.settings)
      setLearnSetting(one.recipe.settings, setting, value);
    one.output = job.output / (variation.name + ".painter.onnx");
    one.makesFolder = true;
    jobs.push_back(std::move(one));
  }
  return jobs;
}

// Whether an earlier run has learned just this.
bool isLearnt(const LearnJob& job) {
  std::error_code code;
  const fs::path file = recipePathFor(job.output);
  if (job.force || !fs::exists(job.output, code) || !fs::exists(file, code)) return false;
  LearnRecipe known = parseLearnRecipe(readRecipe(file), file);
  if (!known.result || !known.result->finished || known.result->version != JUGENDSTIL_VERSION) return false;
  // One that comes with the program has no path in a recipe.
  if (known.network && known.network->checksum == fileChecksum(job.recipe.network->path))
    known.network = job.recipe.network;
  return known.network && !known.network->path.empty() && makingOf(known) == makingOf(job.recipe);
}

void writeSheet(const fs::path& file, const std::vector<LearnJob>& jobs) {
  std::vector<SheetCell> cells;
  for (const LearnJob& one : jobs) {
    LearnRecipe recipe = one.recipe;
    const LearnFiles files = readLearn(recipe, true);
    const QuickPainter painter = readQuickPainter(one.output);
    const Image& photo =
        files.inputs.pairs.empty() ? files.inputs.photos.front() : files.inputs.pairs.front().frame;
    PaintSettings settings;
    settings.brushwork = false;
    settings.longEdge = one.recipe.settings.longEdge;
    settings = settingsWith({&painter}, settings);
    cells.push_back({paintAtOnce({&painter}, inputsWith({&painter}, {photo, {}}), settings, {}).picture,
                     fmt::format("{}", fmt::join(unusualOf(settingsOf(one.recipe)), ", ")),
                     one.output.filename().string()});
  }
  SheetOptions options;
  options.title = fmt::format("{} painters", jobs.size());
  options.columns = std::min(4, countOf(cells));
  writePicture(file, contactSheet(cells, options), Depth::eight);
}

int learnSeveral(const LearnJob& job) {
  const std::vector<LearnJob> jobs = variations(job);
  const fs::path sheet = job.output / "sheet.png";
  std::size_t kept = 0;
  for (const LearnJob& one : jobs) kept += isLearnt(one) ? 1 : 0;
  // A sheet that lies there with painters of these is theirs.
  if (kept == 0 && !goesOn(jobs.front().recipe, jobs.front().output, job.force))
    requireFree(sheet, job.force);
  if (kept > 0 && !job.quiet)
    say(stderr, "{} of {} painters are there already and kept\n", kept, jobs.size());
  for (const LearnJob& one : jobs) {
    if (isLearnt(one)) continue;
    const int result = learnOne(one);
    if (result == 0) continue;
    say(stderr, "the same command goes on with it, and with the rest\n");
    return result;
  }
  if (job.dryRun) {
    say(stdout, "{} painters and {}\n", jobs.size(), sheet.string());
    return 0;
  }
  writeSheet(sheet, jobs);
  if (job.progress != ProgressStyle::json)
    say(stdout, "{}: a photo by each of {} painters\n", sheet.string(), jobs.size());
  return 0;
}

}  // namespace

double foretoldSeconds(const LearnJob& job) {
  LearnRecipe recipe = job.recipe;
  const LearnFiles files = readLearn(recipe, true);
  return secondsPerStep(recipe, files) * recipe.settings.steps;
}

int runLearnJob(const LearnJob& job) { return job.vary.empty() ? learnOne(job) : learnSeveral(job); }

}  // namespace jugendstil::cli
