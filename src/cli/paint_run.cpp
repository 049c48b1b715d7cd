// SPDX-License-Identifier: Apache-2.0
#include "cli/paint_run.h"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "base/checksum.h"
#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"
#include "cli/calibration.h"
#include "cli/interrupt.h"
#include "cli/kept_painting.h"
#include "cli/paint_inputs.h"
#include "cli/paint_outputs.h"
#include "cli/paint_state.h"
#include "cli/painters.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "cli/snapshots.h"
#include "image/picture_file.h"
#include "network/chain_file.h"
#include "paint/estimate.h"
#include "paint/finish.h"
#include "paint/plan.h"
#include "recipe/recipe_words.h"
#include "recipe/recipe_writer.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr double kBlink = 5;  // seconds

struct Inputs {
  Chain chain;
  Picture photo;  // but its pixels, which are in `paint`
  PaintInputs paint;
  Painters painters;
};

// Whether a painter paints the first state of what is optimised.
bool isBegun(const PaintRecipe& recipe) {
  return !paintsAtOnce(recipe) && (recipe.painter || recipe.settings.start == "quick");
}

// As they are painted with by optimising.
PaintSettings settingsFor(const PaintRecipe& recipe) {
  return isBegun(recipe) ? begunSettings(recipe.settings) : recipe.settings;
}

// As painters paint with them.
PaintSettings settingsAtOnce(const PaintRecipe& recipe, const Inputs& inputs) {
  return settingsWith(inputs.painters.choice, recipe.settings);
}

// The beginning, at the size at which losses are optimised last.
Image begun(const PaintRecipe& recipe, const Inputs& inputs) {
  const Size photo{inputs.paint.photo.width, inputs.paint.photo.height};
  PaintSettings settings = settingsFor(recipe);
  const Size working = planPainting(photo, settings, inputs.chain).working;
  settings.brushwork = settings.finish = settings.proof = false;
  settings.longEdge = std::max(working.width, working.height);
  settings = settingsWith(inputs.painters.choice, settings);
  PaintInputs own;
  own.photo = inputs.paint.photo;
  if (!recipe.painter) own.parts = inputs.paint.parts;
  return paintAtOnce(inputs.painters.choice, inputsWith(inputs.painters.choice, std::move(own)), settings, {})
      .painting;
}

Inputs readInputs(PaintRecipe& recipe, bool quiet) {
  Inputs inputs;
  knowFile(*recipe.photo, "photo", quiet);
  inputs.photo = readPicture(recipe.photo->path);
  inputs.paint.photo = std::move(inputs.photo.image);
  knowFile(*recipe.network, "network", quiet);
  inputs.painters = readPainters(recipe, quiet);
  readLines(recipe.drawnLines, recipe.linesInside, quiet, inputs.paint);
  if (paintsAtOnce(recipe) && !recipe.settings.quick) {
    readParts(
        recipe.parts, recipe.mask, [](RecipeInput&) { return PaintReference{}; }, quiet, inputs.paint);
    inputs.paint = inputsWith(inputs.painters.choice, std::move(inputs.paint));
    recipe.settings = settingsWith(inputs.painters.choice, recipe.settings);
    return inputs;
  }
  const auto read = [&](RecipeInput& r) { return readReference(r, recipe.settings.trim, quiet); };
  for (RecipeInput& r : recipe.references) inputs.paint.references.push_back(read(r));
  readParts(recipe.parts, recipe.mask, read, quiet, inputs.paint);
  readHolds(recipe.holds, recipe.photo->path.filename().string(), quiet, inputs.paint);
  if (recipe.start) {
    knowFile(*recipe.start, "start", quiet);
    inputs.paint.start = rgbOf(readPicture(recipe.start->path).image);
  }
  Chain own = readOnnx(recipe.network->path);
  if (recipe.settings.quick || (isBegun(recipe) && !recipe.painter))
    inputs.painters = generalPainters(inputs.paint, own, recipe.settings);
  inputs.chain = chainFor(std::move(own), recipe.settings);
  if (recipe.settings.quick) inputs.paint = inputsWith(inputs.painters.choice, std::move(inputs.paint));
  if (isBegun(recipe)) inputs.paint.start = begun(recipe, inputs);
  return inputs;
}

int stepsOf(const PaintPlan& plan) {
  int steps = 0;
  for (const LevelPlan& level : plan.levels) steps += level.steps;
  return steps;
}

std::string planLine(const PaintRecipe& recipe, const Image& photo, const PaintPlan& plan) {
  const Size size = plan.size();
  const Size optimised = plan.levels.back().picture;
  const bool half = chosenPrecision(recipe.settings.precision) == Precision::half;
  const bool larger = size.width != optimised.width || size.height != optimised.height;
  const std::string first =
      larger ? fmt::format("{}x{} in ", optimised.width, optimised.height) : std::string();
  if (paintsAtOnce(recipe))
    return fmt::format("painting {} ({}x{}) {} {}: {}x{}, {}at once{}",
                       recipe.photo->path.filename().string(), photo.width, photo.height,
                       recipe.settings.quick ? "after" : "with", afterWords(recipe), size.width, size.height,
                       larger ? fmt::format("{}x{} ", optimised.width, optimised.height) : std::string(),
                       plan.enlarging.empty() ? "" : ", then the reference's brush-work");
  const std::string last = larger                   ? ", then enlarged with the reference's brush-work"
                           : plan.enlarging.empty() ? ""
                                                    : ", then the reference's brush-work laid in";
  return fmt::format("painting {} ({}x{}) after {}: {}x{}, {}{} level{}, {}{} steps, {} precision{}",
                     recipe.photo->path.filename().string(), photo.width, photo.height, afterWords(recipe),
                     size.width, size.height, first, plan.levels.size(), plan.levels.size() == 1 ? "" : "s",
                     recipe.settings.untilGood ? "at most " : "", stepsOf(plan), half ? "half" : "full",
                     last);
}

// What is painted at once, a pixel of the working size, takes as long as so much laying in of brush-work.
constexpr double kAtOncePixel = 0.7;
// Seconds for a unit of it where nothing is known: two processors of 2026.
constexpr double kUsualRate = 2.5e-6;

std::string calibrationKeyOf(const PaintRecipe& recipe) {
  if (paintsAtOnce(recipe)) return fmt::format("{} | at once", weaveCalibrationKey(recipe.settings.threads));
  std::string key = calibrationKey(recipe.settings, recipe.network->checksum);
  // Statistics under weights take longer.
  if (recipe.mask || !recipe.parts.empty()) key += fmt::format(" | {} parts", recipe.parts.size() + 1);
  return key;
}

double workFor(const PaintRecipe& recipe, const Inputs& inputs, const PaintPlan& plan) {
  if (!paintsAtOnce(recipe)) return wholeWork(plan, referenceCount(inputs.paint));
  return plan.work() + kAtOncePixel * plan.working.width * plan.working.height;
}

struct Foretold {
  double seconds = 0;
  bool known = false;  // by earlier work, not by a trial
};

Foretold foretold(const PaintRecipe& recipe, const Inputs& inputs, const PaintPlan& plan) {
  const fs::path cache = calibrationFile();
  const std::string key = calibrationKeyOf(recipe);
  const auto known = knownRate(cache, key);
  if (paintsAtOnce(recipe)) return {known.value_or(kUsualRate) * workFor(recipe, inputs, plan), true};
  const double rate = known ? *known : measuredRate(inputs.chain, inputs.paint, recipe.settings);
  if (!known) keepRate(cache, key, rate);
  return {rate * workFor(recipe, inputs, plan), known.has_value()};
}

void printTime(const PaintJob& job, const Inputs& inputs, const PaintPlan& plan) {
  const Foretold time = foretold(job.recipe, inputs, plan);
  say(stdout, "time: {} {} ({})\n", job.recipe.settings.untilGood ? "at most" : "about",
      duration(time.seconds), time.known ? "from earlier work on this machine" : "from a short trial");
}

PhotoFormat formatOf(const Inputs& inputs) { return {inputs.photo.depth, inputs.paint.photo.channels == 4}; }

PaintPlan planOf(const PaintRecipe& recipe, const Inputs& inputs) {
  const Size photo{inputs.paint.photo.width, inputs.paint.photo.height};
  return paintsAtOnce(recipe) ? planWith(inputs.painters.choice, photo, settingsAtOnce(recipe, inputs))
                              : planPainting(photo, settingsFor(recipe), inputs.chain);
}

void printPlan(const PaintJob& job, const Inputs& inputs, const PaintPlan& plan) {
  say(stdout, "{}\n", planLine(job.recipe, inputs.paint.photo, plan));
  say(stdout, "  photo {}\n", job.recipe.photo->path.string());
  if (job.recipe.painter) say(stdout, "  with {}\n", job.recipe.painter->path.string());
  tellInputs(job.recipe.references, job.recipe.parts, job.recipe.mask, job.recipe.holds);
  if (job.recipe.drawnLines) say(stdout, "  lines from {}\n", job.recipe.drawnLines->path.string());
  if (job.recipe.linesInside) say(stdout, "  lines inside {}\n", job.recipe.linesInside->path.string());
  for (std::size_t i = 0; i < plan.levels.size(); ++i) {
    const LevelPlan& level = plan.levels[i];
    say(stdout, "  level {}: {}x{}, {}\n", i + 1, level.picture.width, level.picture.height,
        level.steps == 0 ? "at once" : fmt::format("{} steps", level.steps));
  }
  for (std::size_t i = 0; i < plan.enlarging.size(); ++i)
    say(stdout, "  level {}: {}x{}, brush-work\n", plan.levels.size() + i + 1, plan.enlarging[i].width,
        plan.enlarging[i].height);
  tellSettings(settingsOf(job.recipe));
  say(stdout, "memory: about {} MB{}\n", plan.memory >> 20, plan.tiled ? ", in tiles" : "");
  printTime(job, inputs, plan);
  tellOutputs(job, formatOf(inputs));
}

std::string sparedWords(const PaintResult& result, const PaintPlan& plan) {
  if (result.spared == 0) return {};
  return fmt::format("; {} of {} steps were spared: they would have changed nothing to be seen",
                     result.spared, stepsOf(plan));
}

// Before hours of work: will there be such a step?
void requireSnapshotSteps(const PaintJob& job, const PaintPlan& plan) {
  for (const int step : job.recipe.settings.snapshots.at) {
    if (step > stepsOf(plan))
      throw UsageError(
          fmt::format("--snapshots asks for step {}, and the painting has {} steps", step, stepsOf(plan)));
  }
}

void tellResult(const PaintJob& job, const PaintResult& result, const PaintPlan& plan, double seconds) {
  const fs::path recipe = recipePathFor(job.output);
  if (job.progress == ProgressStyle::json) {
    const nlohmann::json object{{"event", result.finished ? "done" : "stopped"},
                                {"file", job.output.string()},
                                {"recipe", recipe.string()},
                                {"width", result.picture.width},
                                {"height", result.picture.height},
                                {"seconds", seconds},
                                {"spared", result.spared},
                                {"loss", result.loss.total()}};
    sayJson(stdout, object);
    return;
  }
  if (job.toPipe && !result.finished) {
    say(stdout, "stopped; nothing was written\n");
    return;
  }
  if (result.finished) {
    say(stdout, "{}: {}x{}, painted in {}{}\n", job.shownOutput(), result.picture.width,
        result.picture.height, duration(seconds), sparedWords(result, plan));
    if (job.recipe.settings.proof && !job.quiet && !job.toPipe)
      say(stdout, "for the whole painting: jugendstil redo {} --proof=no -o OUT\n", recipe.string());
    return;
  }
  say(stdout, "{}: {}x{}, stopped at level {} of {}, step {} of {}, after {}; unfinished\n",
      job.output.string(), result.picture.width, result.picture.height, result.last.level + 1,
      result.last.levels, result.last.step, result.last.steps, duration(seconds));
  if (result.notKept.empty() && !job.fromPipe) {
    say(stdout, "to go on from there: jugendstil redo {}\n", recipe.string());
    return;
  }
  if (!result.notKept.empty()) say(stderr, "note: its state could not be kept: {}\n", result.notKept);
  say(stdout, "to paint it anew: jugendstil redo {}{} -o {} --force\n", recipe.string(),
      job.fromPipe ? " --photo FILE" : "", job.output.string());
}

}  // namespace

PaintWork workOf(const PaintJob& job) {
  PaintRecipe recipe = job.recipe;
  const Inputs inputs = readInputs(recipe, true);
  return {calibrationKeyOf(recipe), workFor(recipe, inputs, planOf(recipe, inputs))};
}

PaintTime paintTime(const PaintJob& job) {
  PaintRecipe recipe = job.recipe;
  const auto inputs = std::make_shared<const Inputs>(readInputs(recipe, true));
  return [recipe, inputs](const PaintSettings& settings) {
    PaintRecipe one = recipe;
    one.settings = settings;
    setThreads(settings.threads);
    return foretold(one, *inputs, planOf(one, *inputs)).seconds;
  };
}

namespace {

// How a painting's state is kept, and what is kept along.
StateKeeping keepingOf(const PaintJob& job, const PaintPlan& plan, PaintCourse& course,
                       ProgressDisplay& display) {
  StateKeeping keeping;
  if (job.toPipe || job.fromPipe) return keeping;
  keeping.file = stateFileFor(job.output);
  keeping.making = makingAsRead(job.recipe);
  keeping.more = [&](StateExchange& with) {
    double seconds = display.seconds();
    with.value(seconds);
    if (with.reading()) display.addSeconds(seconds);
    course.exchange(with);
  };
  // After a crash the recipe is there to go on with.
  keeping.begun = [&] {
    try {
      writePaintRecipe(
          job, {JUGENDSTIL_VERSION, false, plan.size().width, plan.size().height, display.seconds(), {}});
    } catch (const Error&) {  // it is written again at the end, and must not cost the painting now
    }
  };
  return keeping;
}

PaintResult painted(const PaintJob& job, const Inputs& inputs, const PaintPlan& plan, PaintCourse& course,
                    ProgressDisplay& display, bool& resumed) {
  const InterruptWatch interrupt;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) {
    display.show(p);
    course.take(p);
    interrupt.stopIfWanted();
  };
  callbacks.snapshot = [&](const Image& picture, int step) {
    const fs::path path = snapshotPath(job.output, step);
    if (!resumed) requireFree(path, job.force);
    writePicture(path, picture, Depth::eight);
    course.snapshots.push_back(step);
  };
  if (paintsAtOnce(job.recipe)) {
    // What is done in a blink needs no lines.
    const bool blink = job.progress == ProgressStyle::lines;
    PaintResult result = paintAtOnce(inputs.painters.choice, inputs.paint, settingsAtOnce(job.recipe, inputs),
                                     [&](const PaintProgress& p) {
                                       if (!blink || display.seconds() > kBlink) display.show(p);
                                       interrupt.stopIfWanted();
                                     });
    display.finish();
    return result;
  }
  callbacks.keeping = keepingOf(job, plan, course, display);
  callbacks.resumed = [&](const PaintProgress& p) {
    resumed = true;
    if (job.tells())
      say(stderr, "going on from level {} of {}, {} {} of {}\n", p.level + 1, p.levels,
          p.enlarging ? "brush-work, pass" : "step", p.step, p.steps);
  };
  PaintResult result = paint(inputs.chain, inputs.paint, settingsFor(job.recipe), callbacks);
  display.finish();
  return result;
}

// What was begun under a name that another program has taken since goes on under the new one, too.
void takeFreeName(PaintJob& job) {
  const fs::path before = job.output;
  job.output = stillFree(before);
  if (job.output == before) return;
  std::error_code code;
  fs::rename(stateFileFor(before), stateFileFor(job.output), code);
  try {
    const fs::path recipe = recipePathFor(before);
    if (isUnfinished(recipe)) fs::remove(recipe, code);
  } catch (const Error&) {  // there is none, or it is another program's
  }
}

}  // namespace

int runPaintJob(const PaintJob& asked) {
  PaintJob job = asked;
  requireNames(job);
  const bool again = goesOn(job.recipe, job.output, job.force);
  if (!again) {
    requireNoOtherState(job.output, job.force);
    requireFreeOutputs(job);
  }
  requirePlace(job.output, job.makesFolder);
  if (job.makesFolder && !job.dryRun) makeFolderFor(job.output);
  setThreads(job.recipe.settings.threads);
  if (!again && layAgain(job)) return 0;
  Inputs inputs = readInputs(job.recipe, job.quiet);
  if (!again && keepsBeside(job, formatOf(inputs))) requireFree(keptPaintingPath(job.output), job.force);
  const PaintPlan plan = planOf(job.recipe, inputs);
  requireSnapshotSteps(job, plan);
  if (job.dryRun) {
    printPlan(job, inputs, plan);
    if (again) say(stdout, "would go on from {}\n", stateFileFor(job.output).string());
    return 0;
  }
  std::error_code code;
  if (!again) fs::remove(stateFileFor(job.output), code);
  if (job.tells()) say(stderr, "{}\n", planLine(job.recipe, inputs.paint.photo, plan));
  ProgressDisplay display(job.progress);
  PaintCourse course;
  bool resumed = false;
  const PaintResult result = painted(job, inputs, plan, course, display, resumed);
  const double seconds = display.seconds();
  if (!again && !job.force && !job.toPipe) takeFreeName(job);
  writePainting(job, inputs.photo, inputs.paint.photo, result, course, seconds);
  if (result.finished) fs::remove(stateFileFor(job.output), code);
  if (result.finished && !resumed && result.spared == 0)
    learnRate(calibrationFile(), calibrationKeyOf(job.recipe), seconds / workFor(job.recipe, inputs, plan),
              seconds);
  if (result.recovered > 0 && !job.quiet) {
    say(stderr, "note: {} step{} made things worse and {} taken back\n", result.recovered,
        result.recovered == 1 ? "" : "s", result.recovered == 1 ? "was" : "were");
  }
  tellResult(job, result, plan, seconds);
  return result.finished ? 0 : 130;
}

}  // namespace jugendstil::cli
