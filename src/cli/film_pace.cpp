// SPDX-License-Identifier: Apache-2.0
#include "cli/film_pace.h"

#include <fmt/format.h>
#include <stdlib.h>

#include <chrono>
#include <cmath>

#include "base/error.h"
#include "cli/calibration.h"
#include "film/film.h"
#include "paint/estimate.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

// Decoding, motion, saving, masks and encoding take as long for a pixel of the film as so many steps of
// painting it; laying in its brush-work comes on top. Bf16 makes steps quicker, and nothing else.
constexpr double kAroundSteps = 0.4;
constexpr double kBrushSteps = 1.2;
constexpr double kStepsInHalf = 8;
// Frames of a trial of grading, or of painting at once.
constexpr int kTrialFrames = 3;

double pixelsOf(const FilmPlan& plan) {
  return static_cast<double>(plan.frames) * plan.size.width * plan.size.height;
}

// Small frames take longer for each pixel, many times where they are tiny, so a film tells only of those
// whose size is within a factor of two.
std::string keyOf(const FilmRecipe& recipe, const FilmPlan& plan) {
  const double edge = std::sqrt(1.0 * plan.size.width * plan.size.height);
  std::string kind = recipe.grade || paintsAtOnce(recipe)
                         ? gradeCalibrationKey(recipe.paint.threads)
                         : calibrationKey(recipe.paint, recipe.network->checksum);
  if (paintsAtOnce(recipe)) kind += fmt::format(" | at once{}", recipe.paint.brushwork ? ", brush-work" : "");
  return fmt::format("{} | film of about {} pixels a side", kind, std::exp2(std::round(std::log2(edge))));
}

// What a film's time is in proportion to: of painting, steps of pixels; of grading and of quick painters,
// pixels.
double workOf(const FilmInputs& inputs, const FilmPlan& plan) {
  if (inputs.grade || inputs.painter != nullptr) return pixelsOf(plan);
  const LevelPlan& last = plan.paint.levels.back();
  const double led = last.work() / last.steps * plan.frameSteps * inputs.film.passes;
  const double around = (kAroundSteps + (inputs.paint.brushwork ? kBrushSteps : 0)) *
                        (plan.paint.precision == Precision::half ? kStepsInHalf : 1);
  return wholeWork(plan.paint, referencesOf(inputs).size()) + static_cast<double>(plan.frames - 1) * led +
         around * pixelsOf(plan);
}

// Seconds for each step of a pixel, of a single painting.
double paintingRate(const FilmRecipe& recipe, const FilmInputs& inputs, const FilmPlan& plan, bool& known) {
  const fs::path cache = calibrationFile();
  const std::string key = calibrationKey(recipe.paint, recipe.network->checksum);
  if (const auto learnt = knownRate(cache, key)) {
    known = true;
    return *learnt;
  }
  const Image grey(plan.size.width, plan.size.height, 3, 0.5F);
  PaintSettings settings = inputs.paint;
  settings.longEdge = std::max(plan.size.width, plan.size.height);
  const double rate = measuredRate(*inputs.chain, {grey, referencesOf(inputs)}, settings);
  keepRate(cache, key, rate);
  return rate;
}

// Grades or paints a few frames into a folder that goes.
double trialRate(const FilmInputs& inputs) {
  std::string pattern = fs::temp_directory_path() / "jugendstil-XXXXXX";
  if (mkdtemp(pattern.data()) == nullptr) throw Error("no temporary folder can be made for a trial");
  const fs::path folder = pattern;
  FilmInputs trial = inputs;
  trial.output = (folder / "trial.mkv").string();
  trial.film.frames = inputs.film.frames > 0 ? std::min(inputs.film.frames, kTrialFrames) : kTrialFrames;
  trial.film.sound = false;
  trial.film.codec = "auto";
  trial.mask.reset();
  try {
    const auto begin = std::chrono::steady_clock::now();
    makeFilm(trial, {});
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
    fs::remove_all(folder);
    return seconds / pixelsOf(planFilm(trial));
  } catch (...) {
    fs::remove_all(folder);
    throw;
  }
}

}  // namespace

FilmTime foretoldTime(const FilmRecipe& recipe, const FilmInputs& inputs, const FilmPlan& plan) {
  FilmTime time;
  double rate = 0;
  if (const auto learnt = knownRate(calibrationFile(), keyOf(recipe, plan))) {
    rate = *learnt;
    time.known = true;
  } else if (inputs.grade || inputs.painter != nullptr) {
    rate = trialRate(inputs);
    keepRate(calibrationFile(), keyOf(recipe, plan), rate);
  } else {
    rate = paintingRate(recipe, inputs, plan, time.known);
  }
  time.seconds = rate * workOf(inputs, plan);
  return time;
}

void learnPace(const FilmRecipe& recipe, const FilmInputs& inputs, const FilmPlan& plan, double seconds) {
  learnRate(calibrationFile(), keyOf(recipe, plan), seconds / workOf(inputs, plan), seconds);
}

}  // namespace jugendstil::cli
