// SPDX-License-Identifier: Apache-2.0
#include "cli/weave_job.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/error.h"
#include "base/parallel.h"
#include "base/stop.h"
#include "cli/calibration.h"
#include "cli/interrupt.h"
#include "cli/options.h"
#include "cli/paint_inputs.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "cli/several_pieces.h"
#include "cli/vary.h"
#include "cli/weave_inputs.h"
#include "image/picture_file.h"
#include "recipe/recipe_file.h"
#include "recipe/recipe_words.h"
#include "recipe/recipe_writer.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMostPieces = 100;
constexpr double kBlink = 3;  // seconds
// Seconds a pixel where nothing is known: two processors of 2026.
constexpr double kUsualRate = 2.8e-6;

void requireMemory(Size size, double needed) {
  const double there =
      0.75 * static_cast<double>(sysconf(_SC_PHYS_PAGES)) * static_cast<double>(sysconf(_SC_PAGESIZE));
  if (needed <= there) return;
  throw Error(fmt::format(
      "a piece of {}x{} needs {:.0f} MB, and this machine has {:.0f} MB to give; choose a smaller size",
      size.width, size.height, needed / 1e6, there / 1e6));
}

std::string planLine(const WeaveRecipe& recipe, const WeaveFiles& files) {
  const std::string from = referenceWords(recipe.swatches, recipe.parts);
  if (recipe.picture)
    return fmt::format("filling {} where {} is white{}", recipe.picture->path.filename().string(),
                       recipe.hole->path.filename().string(), from.empty() ? "" : ", also from " + from);
  const Size size = sizeOf(files);
  std::string line = fmt::format("weaving {}x{} from {}", size.width, size.height, from);
  if (recipe.along) line += " along " + recipe.along->path.filename().string();
  if (recipe.mask) line += ", " + maskWords(recipe.mask);
  if (recipe.layout) line += " along " + recipe.layout->path.filename().string();
  if (recipe.over) line += " over " + recipe.over->path.filename().string();
  return line;
}

void requirePlaces(const WeaveJob& job) {
  requireWritableName(job.output);
  requireEncoding(job.output, job.recipe.settings.encoding);
  const WeaveRecipe& r = job.recipe;
  for (const RecipeInput& swatch : r.swatches) requireOther(job.output, swatch.path);
  for (const auto* input : {&r.picture, &r.hole, &r.over, &r.layout, &r.layoutMap, &r.along}) {
    if (*input) requireOther(job.output, (*input)->path);
  }
  for (const RecipePart& part : r.parts) {
    requireOther(job.output, part.mask.path);
    requireOther(job.output, part.reference.path);
  }
  if (r.mask) requireOther(job.output, r.mask->file.path);
  requireFree(job.output, job.force);
  if (!job.toPipe) requireFree(recipePathFor(job.output), job.force);
  requirePlace(job.output, job.makesFolder);
}

int tellPlan(const WeaveJob& job, const WeaveFiles& files, const WeaveCost& cost, double seconds) {
  say(stdout, "{}\n", planLine(job.recipe, files));
  tellSettings(settingsOf(job.recipe));
  say(stdout, "would write {}\n", job.shownOutput());
  if (!job.toPipe) say(stdout, "would write {}\n", recipePathFor(job.output).string());
  say(stdout, "memory: about {:.0f} MB\n", cost.bytes / 1e6);
  say(stdout, "time: about {}\n", duration(seconds));
  return 0;
}

Image woven(const WeaveJob& job, const WeaveFiles& files, double foretold, const InterruptWatch& watch) {
  ProgressDisplay display(job.quiet ? ProgressStyle::none : job.progress);
  Image piece = wovenFrom(files, [&](double done) {
    watch.stopIfWanted();
    const double elapsed = display.seconds();
    // What is done in a blink needs no lines.
    if (job.progress == ProgressStyle::lines && elapsed < kBlink) return;
    const double remaining = done > 0.2 ? elapsed / done * (1 - done) : std::max(0.0, foretold - elapsed);
    display.show(done, fmt::format("about {} to go", duration(remaining)),
                 progressEvent(done, elapsed, remaining), done >= 1);
  });
  display.finish();
  return piece;
}

void write(const WeaveJob& job, const WeaveFiles& files, const Image& piece) {
  if (job.makesFolder) makeFolderFor(job.output);
  const Image& own = files.alongPhoto() ? files.paint.photo : files.transparent;
  writePicture(job.output, withAlphaOf(own, piece), files.depth, files.metadata.get(),
               job.recipe.settings.encoding);
}

int weaveOne(const WeaveJob& asked, const InterruptWatch& watch) {
  WeaveJob job = asked;
  requirePlaces(job);
  setThreads(job.recipe.settings.threads);
  const WeaveFiles files = readWeave(job.recipe, job.quiet);
  const WeaveCost cost = costOf(files);
  const double foretold = weaveSecondsFor(cost.work, job.recipe.settings.threads);
  requireMemory(sizeOf(files), cost.bytes);
  if (job.dryRun) return tellPlan(job, files, cost, foretold);
  if (job.tells()) say(stderr, "{}, about {}\n", planLine(job.recipe, files), duration(foretold));
  const auto begin = std::chrono::steady_clock::now();
  const Image piece = woven(job, files, foretold, watch);
  const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  // Of a small part of a photo, getting ready is most of it, which says little of the next.
  if (!job.recipe.mask && job.recipe.parts.empty())
    learnRate(calibrationFile(), weaveCalibrationKey(job.recipe.settings.threads), seconds / cost.work,
              seconds);
  write(job, files, piece);
  fs::path recipe;
  if (!job.toPipe) {
    job.recipe.piece = job.output.filename().string();
    job.recipe.result = PieceResult{JUGENDSTIL_VERSION, piece.width, piece.height, seconds};
    recipe = recipePathFor(job.output);
    writeFileAtomically(recipe, weaveRecipeText(job.recipe, fs::absolute(recipe).parent_path()));
  }
  if (job.progress == ProgressStyle::json)
    sayJson(stdout, {{"event", "done"},
                     {"file", job.output.string()},
                     {"recipe", recipe.string()},
                     {"width", piece.width},
                     {"height", piece.height},
                     {"seconds", seconds}});
  else
    say(stdout, "{}: {}x{}, {} in {}\n", job.shownOutput(), piece.width, piece.height,
        job.recipe.picture ? "filled" : "woven", duration(seconds));
  return 0;
}

// One job for each combination of values.
std::vector<WeaveJob> variations(const WeaveJob& job) {
  WeaveSettings trial;
  const auto attempt = [&](const std::string& setting, const std::string& value) {
    setWeaveSetting(trial, setting, value);
  };
  std::vector<WeaveJob> jobs;
  const std::string stem = namedAfter(job.recipe).path.stem().string();
  for (const Variation& variation : variationsOf(job.vary, stem, kMostPieces, "pieces", attempt)) {
    WeaveJob one = job;
    one.vary.clear();
    for (const auto& [setting, value] : variation.settings)
      setWeaveSetting(one.recipe.settings, setting, value);
    one.output = job.output / (variation.name + ".png");
    one.makesFolder = true;
    jobs.push_back(std::move(one));
  }
  return jobs;
}

// Whether an earlier run has woven just this.
bool isWoven(const WeaveJob& job) {
  std::error_code code;
  const fs::path file = recipePathFor(job.output);
  if (!fs::exists(job.output, code) || !fs::exists(file, code)) return false;
  WeaveRecipe known = parseWeaveRecipe(readRecipe(file), file);
  if (!known.result || known.result->version != JUGENDSTIL_VERSION) return false;
  known.result.reset();
  WeaveRecipe asked = job.recipe;
  asked.piece = job.output.filename().string();
  for (RecipeInput& swatch : asked.swatches) swatch.checksum = fileChecksum(swatch.path);
  for (auto* input :
       {&asked.picture, &asked.hole, &asked.over, &asked.layout, &asked.layoutMap, &asked.along}) {
    if (*input) (*input)->checksum = fileChecksum((*input)->path);
  }
  for (RecipePart& part : asked.parts) {
    part.mask.checksum = fileChecksum(part.mask.path);
    part.reference.checksum = fileChecksum(part.reference.path);
  }
  if (asked.mask) asked.mask->file.checksum = fileChecksum(asked.mask->file.path);
  const fs::path folder = fs::absolute(file).parent_path();
  return weaveRecipeText(known, folder) == weaveRecipeText(asked, folder);
}

int weaveSeveral(const WeaveJob& job, const InterruptWatch& watch) {
  const std::vector<WeaveJob> jobs = variations(job);
  SeveralPieces pieces;
  pieces.folder = job.output;
  for (const WeaveJob& one : jobs) pieces.outputs.push_back(one.output);
  pieces.isMade = [&](std::size_t i) { return isWoven(jobs[i]); };
  pieces.requirePlaces = [&](std::size_t i) { requirePlaces(jobs[i]); };
  pieces.make = [&](std::size_t i) { weaveOne(jobs[i], watch); };
  pieces.caption = [&](std::size_t i) {
    return fmt::format("{}", fmt::join(unusualOf(settingsOf(jobs[i].recipe)), ", "));
  };
  return makeSeveral(pieces, job);
}

}  // namespace

const RecipeInput& namedAfter(const WeaveRecipe& recipe) {
  if (recipe.along) return *recipe.along;
  return recipe.picture ? *recipe.picture : recipe.swatches.front();
}

double weaveSecondsFor(double pixels, int threads) {
  const auto known = knownRate(calibrationFile(), weaveCalibrationKey(threads));
  return std::max(1.0, known.value_or(kUsualRate) * pixels);
}

int runWeaveJob(const WeaveJob& job) {
  // Of several it listens between them, too.
  const InterruptWatch watch;
  return job.vary.empty() ? weaveOne(job, watch) : weaveSeveral(job, watch);
}

}  // namespace jugendstil::cli
