// SPDX-License-Identifier: Apache-2.0
#include "cli/amplify_job.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <chrono>
#include <nlohmann/json.hpp>
#include <optional>

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "cli/amplify_inputs.h"
#include "cli/interrupt.h"
#include "cli/options.h"
#include "cli/paint_inputs.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "cli/several_pieces.h"
#include "cli/snapshots.h"
#include "cli/vary.h"
#include "image/picture_file.h"
#include "recipe/recipe_file.h"
#include "recipe/recipe_words.h"
#include "recipe/recipe_writer.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostPieces = 100;

std::string planLine(const AmplifyRecipe& recipe, const AmplifyPlan& plan) {
  std::string line =
      fmt::format("amplifying {}: {}x{}, band {}, patterns of up to {:.0f} pixels",
                  recipe.photo->path.filename().string(), plan.size().width, plan.size().height,
                  amplifySettingText(recipe.settings, "band"), plan.pattern);
  if (plan.sizes.size() > 1) line += fmt::format(" at {} sizes", plan.sizes.size());
  if (!recipe.towards.empty()) line += " of " + referenceWords(recipe.towards);
  if (recipe.mask) line += ", " + maskWords(recipe.mask);
  return line;
}

void requirePlaces(const AmplifyJob& job) {
  const AmplifyRecipe& r = job.recipe;
  requireWritableName(job.output);
  requireEncoding(job.output, r.settings.painting.encoding);
  requireOtherThanInputs(job.output, r);
  requireFree(job.output, job.force);
  if (!job.toPipe) requireFree(recipePathFor(job.output), job.force);
  if (r.settings.painting.snapshots.wanted()) requireFree(snapshotSheetPath(job.output), job.force);
  requirePlace(job.output, job.makesFolder);
}

int tellPlan(const AmplifyJob& job, const AmplifyPlan& plan, double seconds) {
  say(stdout, "{}\n", planLine(job.recipe, plan));
  for (const LevelPlan& level : plan.sizes)
    say(stdout, "  {}x{}: {} steps\n", level.picture.width, level.picture.height, level.steps);
  tellSettings(settingsOf(job.recipe));
  say(stdout, "would write {}\n", job.shownOutput());
  if (!job.toPipe) say(stdout, "would write {}\n", recipePathFor(job.output).string());
  say(stdout, "memory: about {} MB{}\n", plan.memory >> 20, plan.tiled ? ", in tiles" : "");
  say(stdout, "time: about {}\n", duration(seconds));
  return 0;
}

// None where it was stopped and has left snapshots.
std::optional<Image> amplifiedWithProgress(const AmplifyJob& job, const AmplifyFiles& files, double foretold,
                                           const InterruptWatch& watch) {
  ProgressDisplay display(job.quiet ? ProgressStyle::none : job.progress);
  AmplifyCallbacks callbacks;
  callbacks.progress = [&](double done) {
    watch.stopIfWanted();
    const double elapsed = display.seconds();
    const double remaining = done > 0.2 ? elapsed / done * (1 - done) : std::max(0.0, foretold - elapsed);
    display.show(done, fmt::format("about {} to go", duration(remaining)),
                 progressEvent(done, elapsed, remaining), false);
  };
  std::vector<int> snapshots;
  callbacks.snapshot = [&](const Image& picture, int step) {
    const fs::path path = snapshotPath(job.output, step);
    requireFree(path, job.force);
    writePicture(path, picture, Depth::eight);
    snapshots.push_back(step);
  };
  std::optional<Image> picture;
  try {
    picture = amplified(files.chain, files.inputs, job.recipe.settings, callbacks);
  } catch (const Stopped&) {
    if (snapshots.empty()) throw;
  }
  display.finish();
  writeSnapshotSheet(job.output, snapshots);
  return picture;
}

void tellDone(const AmplifyJob& job, const fs::path& recipe) {
  const PieceResult& r = *job.recipe.result;
  if (job.progress == ProgressStyle::json)
    sayJson(stdout, {{"event", "done"},
                     {"file", job.output.string()},
                     {"recipe", recipe.string()},
                     {"width", r.width},
                     {"height", r.height},
                     {"seconds", r.seconds}});
  else
    say(stdout, "{}: {}x{}, amplified in {}\n", job.shownOutput(), r.width, r.height, duration(r.seconds));
}

int amplifyOne(const AmplifyJob& asked, const InterruptWatch& watch) {
  AmplifyJob job = asked;
  requirePlaces(job);
  setThreads(job.recipe.settings.painting.threads);
  const AmplifyFiles files = readAmplify(job.recipe, job.quiet);
  const AmplifyPlan plan = planAmplifying(files.photo(), job.recipe.settings, files.chain);
  const double foretold = amplifySecondsFor(plan.work(), job.recipe);
  if (job.dryRun) return tellPlan(job, plan, foretold);
  if (job.tells()) say(stderr, "{}, about {}\n", planLine(job.recipe, plan), duration(foretold));
  if (job.makesFolder) makeFolderFor(job.output);
  const auto begin = std::chrono::steady_clock::now();
  const std::optional<Image> made = amplifiedWithProgress(job, files, foretold, watch);
  if (!made)
    return tellStopped(job, fmt::format("stopped; the pictures on the way are there, on {}",
                                        snapshotSheetPath(job.output).string()));
  const Image& picture = *made;
  const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  learnAmplifyRate(plan.work(), seconds, job.recipe);
  if (!job.force && !job.toPipe) job.output = stillFree(job.output);
  writePicture(job.output, withAlphaOf(files.inputs.photo, picture), files.depth, files.metadata.get(),
               job.recipe.settings.painting.encoding);
  job.recipe.picture = job.output.filename().string();
  if (job.fromPipe) job.recipe.photo.reset();  // what came through a pipe is gone
  job.recipe.result = PieceResult{JUGENDSTIL_VERSION, picture.width, picture.height, seconds};
  fs::path recipe;
  if (!job.toPipe) {
    recipe = recipePathFor(job.output);
    writeFileAtomically(recipe, amplifyRecipeText(job.recipe, fs::absolute(recipe).parent_path()));
  }
  tellDone(job, recipe);
  return 0;
}

// One job for each combination of values.
std::vector<AmplifyJob> variations(const AmplifyJob& job) {
  AmplifySettings trial;
  const auto attempt = [&](const std::string& setting, const std::string& value) {
    setAmplifySetting(trial, setting, value);
  };
  std::vector<AmplifyJob> jobs;
  const std::string stem = job.recipe.photo->path.stem().string();
  for (const Variation& variation : variationsOf(job.vary, stem, kMostPieces, "pieces", attempt)) {
    AmplifyJob one = job;
    one.vary.clear();
    for (const auto& [setting, value] : variation.settings)
      setAmplifySetting(one.recipe.settings, setting, value);
    one.output = job.output / (variation.name + ".png");
    one.makesFolder = true;
    jobs.push_back(std::move(one));
  }
  return jobs;
}

// Whether an earlier run has made just this.
bool isMade(const AmplifyJob& job) {
  std::error_code code;
  const fs::path file = recipePathFor(job.output);
  if (!fs::exists(job.output, code) || !fs::exists(file, code)) return false;
  AmplifyRecipe known = parseAmplifyRecipe(readRecipe(file), file);
  if (!known.result || known.result->version != JUGENDSTIL_VERSION) return false;
  known.result.reset();
  AmplifyRecipe asked = job.recipe;
  asked.picture = job.output.filename().string();
  asked.photo->checksum = fileChecksum(asked.photo->path);
  for (RecipeInput& reference : asked.towards) reference.checksum = fileChecksum(reference.path);
  if (asked.mask) asked.mask->file.checksum = fileChecksum(asked.mask->file.path);
  asked.network->checksum = fileChecksum(asked.network->path);
  const fs::path folder = fs::absolute(file).parent_path();
  return amplifyRecipeText(known, folder) == amplifyRecipeText(asked, folder);
}

int amplifySeveral(const AmplifyJob& job, const InterruptWatch& watch) {
  const std::vector<AmplifyJob> jobs = variations(job);
  SeveralPieces pieces;
  pieces.folder = job.output;
  for (const AmplifyJob& one : jobs) pieces.outputs.push_back(one.output);
  pieces.isMade = [&](std::size_t i) { return isMade(jobs[i]); };
  pieces.requirePlaces = [&](std::size_t i) { requirePlaces(jobs[i]); };
  pieces.make = [&](std::size_t i) {
    if (amplifyOne(jobs[i], watch) != 0) throw Stopped();
  };
  pieces.caption = [&](std::size_t i) {
    return fmt::format("{}", fmt::join(unusualOf(settingsOf(jobs[i].recipe)), ", "));
  };
  return makeSeveral(pieces, job);
}

}  // namespace

int runAmplifyJob(const AmplifyJob& job) {
  // Of several it listens between them, too.
  const InterruptWatch watch;
  return job.vary.empty() ? amplifyOne(job, watch) : amplifySeveral(job, watch);
}

}  // namespace jugendstil::cli
