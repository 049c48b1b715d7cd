// SPDX-License-Identifier: Apache-2.0
#include "cli/grade_job.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <mutex>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/error.h"
#include "base/parallel.h"
#include "cli/batch.h"
#include "cli/grade_inputs.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "grade/closeness.h"
#include "grade/look_file.h"
#include "recipe/recipe_writer.h"
#include "report/grade_chart.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

std::string joined(const std::vector<std::string>& remarks) {
  std::string text;
  for (const std::string& r : remarks) text += (text.empty() ? "" : ", ") + r;
  return text;
}

// All references as one set of colours in their shares, for measuring against.
std::vector<Oklab> colourMixture(const std::vector<SharedStatistics>& references) {
  double most = 0;
  for (const SharedStatistics& r : references) most = std::max(most, r.share);
  std::vector<Oklab> out;
  for (const SharedStatistics& r : references) {
    const auto& colours = r.statistics.colours;
    const auto count = static_cast<std::size_t>(static_cast<double>(colours.size()) * r.share / most);
    for (std::size_t i = 0; i < std::max<std::size_t>(1, count); ++i) {
      out.push_back(colours[i * colours.size() / std::max<std::size_t>(1, count)]);
    }
  }
  return out;
}

Closeness closenessOf(const GradeOutcome& outcome, const std::vector<SharedStatistics>& references) {
  const std::vector<Oklab> target = colourMixture(references);
  Closeness c;
  c.slicedBefore = slicedDistance(outcome.statisticsBefore.colours, target);
  c.slicedAfter = slicedDistance(outcome.statisticsAfter.colours, target);
  c.ciedeBefore = quantileDistance(outcome.statisticsBefore.colours, target);
  c.ciedeAfter = quantileDistance(outcome.statisticsAfter.colours, target);
  return c;
}

// What the figures are measured against: the rest's references, or those of the first part.
const std::vector<SharedStatistics>& measuredReferences(const GradeInputs& inputs) {
  return inputs.rest.empty() && !inputs.parts.empty() ? inputs.parts[0].target.references
                                                      : inputs.rest.references;
}

void drawChart(const GradeJob& job, const GradeInputs& inputs, const GradeOutcome& outcome) {
  GradeChart chart;
  chart.photo = outcome.before;
  chart.photoName = job.recipe.photos[0].photo.path.filename().string();
  chart.result = outcome.after;
  chart.resultName = job.outputs.empty() ? "result" : job.outputs[0].filename().string();
  if (!job.recipe.references.empty()) {
    const fs::path& first = job.recipe.references[0].path;
    const StoredPicture reference = StoredPicture::read(first);
    chart.reference = reoriented(reducedPicture(reference), reference.orientation());
    chart.referenceName = first.filename().string();
    chart.closeness = closenessOf(outcome, inputs.rest.references);
  }
  chart.look = outcome.look;
  writePicture(job.chart, gradeChart(chart), Depth::eight);
}

void saveLook(const GradeJob& job, const Look& look) {
  Look named = look;
  if (named.name.empty()) named.name = job.saveLook.stem().stem().string();
  writeFileAtomically(job.saveLook, lookText(named));
}

std::string nearer(const Closeness& c) {
  const double part = c.slicedBefore > 0 ? 1 - c.slicedAfter / c.slicedBefore : 0;
  return fmt::format(
      "colours {:.0f} % {} the reference (CIEDE2000 {:.1f} -> {:.1f}, sliced distance {:.4f} -> {:.4f})",
      100 * std::fabs(part), part >= 0 ? "nearer to" : "further from", c.ciedeBefore, c.ciedeAfter,
      c.slicedBefore, c.slicedAfter);
}

// Where the recipe lies: beside its picture, or one for the whole series in its folder.
fs::path recipeFile(const GradeJob& job) {
  if (!job.series) return recipePathFor(job.outputs[0]);
  const fs::path folder = job.outputs[0].parent_path();
  std::error_code code;
  for (int number = 1;; ++number) {
    fs::path file =
        folder / (number == 1 ? "series.recipe.toml" : fmt::format("series-{}.recipe.toml", number));
    if (job.force || !fs::exists(file, code)) return file;
  }
}

fs::path writeRecipe(const GradeJob& job, const GradeRecipeResult& result) {
  GradeRecipe recipe = job.recipe;
  recipe.result = result;
  for (std::size_t i = 0; i < recipe.photos.size(); ++i)
    recipe.photos[i].result = job.outputs[i].filename().string();
  if (job.fromPipe) recipe.photos.clear();  // what came through a pipe is gone
  fs::path file = recipeFile(job);
  writeFileAtomically(file, gradeRecipeText(recipe, fs::absolute(file).parent_path()));
  return file;
}

// What was done, one line for each look.
std::vector<std::string> wordsOf(const GradeJob& job, const GradeOutcome& outcome) {
  std::vector<std::string> lines;
  const auto& parts = job.recipe.parts;
  if (parts.empty() || !job.recipe.references.empty() || job.recipe.look)
    lines.push_back((parts.empty() ? "" : "elsewhere: ") + joined(lookInWords(outcome.look)));
  for (std::size_t i = 0; i < outcome.partLooks.size(); ++i)
    lines.push_back(fmt::format("under {}: {}", parts[i].mask.path.filename().string(),
                                joined(lookInWords(outcome.partLooks[i]))));
  return lines;
}

// One photo, as it came out.
struct Graded {
  const GradeOutcome& outcome;
  std::optional<Closeness> closeness;
  double seconds = 0;
  fs::path recipe;
};

void tellOneJson(const GradeJob& job, const Graded& graded) {
  nlohmann::json object{{"event", "done"},
                        {"file", job.graded() ? job.outputs[0].string() : ""},
                        {"width", graded.outcome.width},
                        {"height", graded.outcome.height},
                        {"seconds", graded.seconds},
                        {"words", lookInWords(graded.outcome.look)}};
  if (job.graded()) object["recipe"] = graded.recipe.string();
  if (const auto& c = graded.closeness) {
    object["ciede2000"] = {c->ciedeBefore, c->ciedeAfter};
    object["sliced_distance"] = {c->slicedBefore, c->slicedAfter};
  }
  sayJson(stdout, object);
}

void tellOne(const GradeJob& job, const Graded& graded) {
  if (job.progress == ProgressStyle::json) {
    tellOneJson(job, graded);
    return;
  }
  if (job.graded()) {
    say(stdout, "{}: {}x{}, graded in {:.1f} s\n", job.toPipe ? "standard output" : job.outputs[0].string(),
        graded.outcome.width, graded.outcome.height, graded.seconds);
  }
  if (job.quiet) return;
  for (const std::string& line : wordsOf(job, graded.outcome)) say(stdout, "  {}\n", line);
  if (graded.closeness && job.recipe.parts.empty()) say(stdout, "  {}\n", nearer(*graded.closeness));
}

void tellSet(const GradeJob& job, const BatchOutcome& batch, std::size_t done, const fs::path& recipe) {
  const std::string folder = job.outputs[0].parent_path().string();
  if (job.progress == ProgressStyle::json) {
    nlohmann::json failed = nlohmann::json::array();
    for (const BatchFailure& f : batch.failures) {
      failed.push_back({{"file", job.recipe.photos[f.item].photo.path.string()}, {"error", f.message}});
    }
    sayJson(stdout, {{"event", batch.stopped ? "stopped" : "done"},
                     {"graded", done},
                     {"photos", job.recipe.photos.size()},
                     {"recipe", recipe.string()},
                     {"failed", failed},
                     {"seconds", batch.seconds}});
    return;
  }
  say(stdout, "{}{}: {} of {} photos graded in {}\n", folder.empty() ? "." : folder,
      folder.ends_with('/') ? "" : "/", done, job.recipe.photos.size(), duration(batch.seconds));
  if (batch.stopped)
    say(stderr, "stopped; name the missing photos to go on, or add --force to grade all again\n");
}

std::size_t workersOf(const GradeJob& job) {
  const int threads = job.recipe.settings.threads;
  return std::min<std::size_t>(threads > 0 ? threads : omp_get_num_procs(), job.recipe.photos.size());
}

void tellPlan(const GradeJob& job) {
  const GradeRecipe& recipe = job.recipe;
  if (recipe.look) say(stdout, "  look {}\n", recipe.look->path.string());
  tellInputs(recipe.references, recipe.parts, recipe.mask);
  tellSettings(settingsOf(recipe));
  if (job.toPipe) say(stdout, "would write to standard output\n");
  for (std::size_t i = 0; i < recipe.photos.size() && i < job.outputs.size() && !job.toPipe; ++i) {
    say(stdout, "would write {} from {}\n", job.outputs[i].string(), recipe.photos[i].photo.path.string());
  }
  if (job.graded() && !job.toPipe) say(stdout, "would write {}\n", recipeFile(job).string());
  if (!job.saveLook.empty()) say(stdout, "would write {}\n", job.saveLook.string());
  if (!job.chart.empty()) say(stdout, "would write {}\n", job.chart.string());
  // As stored, while it is worked on; strips and tables are small beside it.
  const StoredPicture first = StoredPicture::read(recipe.photos[0].photo.path);
  const double megapixels = 1.0 * first.width() * first.height() / 1e6;
  const double bytes = megapixels * first.channels() *
                       (first.depth() == Depth::eight     ? 1
                        : first.depth() == Depth::sixteen ? 2
                                                          : 4);
  say(stdout, "memory: about {:.0f} MB, if all photos are like the first\n",
      150 + bytes * static_cast<double>(workersOf(job)));
  say(stdout, "time: about {}, if all photos are like the first\n", duration(foretoldSeconds(job)));
}

void prepareFolders(const GradeJob& job) {
  for (const fs::path& output : job.outputs) makeFolderFor(output);
}

void requirePlaces(const GradeJob& job) {
  for (std::size_t i = 0; i < job.outputs.size(); ++i) {
    requireWritableName(job.outputs[i]);
    requireEncoding(job.outputs[i], job.recipe.settings.encoding);
    requireOther(job.outputs[i], job.recipe.photos[i].photo.path);
    requireFree(job.outputs[i], job.force);
    requirePlace(job.outputs[i], true);
  }
  if (job.graded()) requireFree(recipeFile(job), job.force);
  if (!job.saveLook.empty()) requireFree(job.saveLook, job.force);
  if (!job.chart.empty()) {
    requireWritableName(job.chart);
    requireFree(job.chart, job.force);
  }
}

void tellProfile(const GradeJob& job, const GradeOutcome& outcome, const fs::path& photo,
                 const fs::path& output) {
  if (!outcome.profileLeftOut || job.quiet) return;
  say(stderr, "note: the colour profile of {} does not go into {} and is left out; the picture is in sRGB\n",
      photo.string(), output.string());
}

int gradeOne(GradeJob& job, const GradeInputs& inputs) {
  knowFile(job.recipe.photos[0].photo, "photo", job.quiet);
  std::optional<GradeOutcome> outcome;
  const auto batch =
      runBatch(1, inputs.settings.threads, job.progress, "photo", [&](std::size_t, const ItemProgress& show) {
        outcome = gradeFile(job.recipe.photos[0].photo.path, job.graded() ? job.outputs[0] : fs::path(),
                            inputs, [&](int done, int rows) { show(1.0 * done / rows); });
      });
  if (!batch.failures.empty()) throw Error(batch.failures[0].message);
  if (batch.stopped || !outcome) {
    say(stderr, "stopped; nothing was written\n");
    return 130;
  }
  if (job.graded()) tellProfile(job, *outcome, job.recipe.photos[0].photo.path, job.outputs[0]);
  if (!job.saveLook.empty()) saveLook(job, outcome->look);
  if (!job.chart.empty()) drawChart(job, inputs, *outcome);
  std::optional<Closeness> closeness;
  const auto& references = measuredReferences(inputs);
  if (!references.empty()) closeness = closenessOf(*outcome, references);
  fs::path recipe;
  if (job.graded()) {
    GradeRecipeResult result{JUGENDSTIL_VERSION, true, 1, batch.seconds, {}};
    if (closeness) result.distance = {closeness->ciedeBefore, closeness->ciedeAfter};
    recipe = writeRecipe(job, result);
  }
  tellOne(job, {*outcome, closeness, batch.seconds, recipe});
  return 0;
}

int gradeSet(GradeJob& job, const GradeInputs& inputs) {
  if (!job.saveLook.empty()) saveLook(job, partOfLook(*inputs.rest.look, inputs.settings.amounts));
  std::mutex mutex;
  std::size_t done = 0;
  auto& photos = job.recipe.photos;
  const auto batch = runBatch(photos.size(), inputs.settings.threads, job.progress, "photo",
                              [&](std::size_t i, const ItemProgress& show) {
                                knowFile(photos[i].photo, "photo", job.quiet);
                                const GradeOutcome outcome =
                                    gradeFile(photos[i].photo.path, job.outputs[i], inputs,
                                              [&](int rows, int all) { show(1.0 * rows / all); });
                                const std::lock_guard lock(mutex);
                                tellProfile(job, outcome, photos[i].photo.path, job.outputs[i]);
                                ++done;
                              });
  fs::path recipe;
  if (done > 0)
    recipe = writeRecipe(
        job, {JUGENDSTIL_VERSION, done == photos.size(), static_cast<int>(done), batch.seconds, {}});
  tellSet(job, batch, done, recipe);
  for (const BatchFailure& f : batch.failures) say(stderr, "jugendstil: {}\n", f.message);
  if (!batch.failures.empty()) {
    say(stderr, "jugendstil: {} of {} photos failed; the others are done\n", batch.failures.size(),
        photos.size());
  }
  if (batch.stopped) return 130;
  return batch.failures.empty() ? 0 : 1;
}

}  // namespace

double foretoldSeconds(const GradeJob& job) {
  const auto begin = std::chrono::steady_clock::now();
  gradeStatistics(reducedPicture(StoredPicture::read(job.recipe.photos[0].photo.path)));
  // Reading and measuring is about half of the work; grading and writing the other.
  const double each = 2 * std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  return std::max(1.0, each * static_cast<double>(job.recipe.photos.size()));
}

int runGradeJob(GradeJob job) {
  requirePlaces(job);
  setThreads(job.recipe.settings.threads);
  if (job.dryRun) {
    tellPlan(job);
    return 0;
  }
  GradeInputs inputs = readGradeInputs(job.recipe, job.quiet);
  prepareFolders(job);
  if (job.recipe.settings.together) matchTogether(job.recipe, inputs);
  return job.recipe.photos.size() == 1 ? gradeOne(job, inputs) : gradeSet(job, inputs);
}

}  // namespace jugendstil::cli
