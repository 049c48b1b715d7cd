// SPDX-License-Identifier: Apache-2.0
#include "cli/paint_outputs.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <nlohmann/json.hpp>

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/number.h"
#include "cli/kept_painting.h"
#include "cli/paint_inputs.h"
#include "cli/paint_state.h"
#include "cli/painters.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "cli/snapshots.h"
#include "image/layered_file.h"
#include "image/resample.h"
#include "recipe/recipe_writer.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

Depth outputDepth(Depth photo) { return photo == Depth::eight ? Depth::eight : Depth::sixteen; }

// What is painted at once is sooner painted anew, and what goes through a pipe leaves nothing behind.
bool keepsPainting(const PaintJob& job) { return !paintsAtOnce(job.recipe) && !job.toPipe && !job.fromPipe; }

// Whether the painting is a picture of its own, which is rounded before it is laid over the photo.
bool liesApart(const PaintJob& job, const PhotoFormat& photo) {
  return !paintsAtOnce(job.recipe) &&
         !isPaintingItself(job.recipe, job.output, photo.depth, photo.transparent);
}

PhotoFormat formatOf(const Picture& photo, const Image& pixels) {
  return {photo.depth, pixels.channels == 4};
}

void writePainted(const PaintJob& job, const Picture& photo, const Image& pixels, const Image& picture) {
  writePicture(job.output, withAlphaOf(pixels, picture), outputDepth(photo.depth), photo.metadata.get(),
               job.recipe.settings.encoding);
}

// The photo below, the painting above with its mask as transparency: so that work goes on by hand.
void writeLayers(const PaintJob& job, const Image& photo, const Image& sheet, const Image& picture,
                 Depth depth) {
  writeOpenRaster(
      job.layers,
      {{"photo", photo}, {"painting", sheet, job.recipe.settings.blend, job.recipe.settings.opacity}},
      picture, outputDepth(depth));
}

void writeCourse(const PaintJob& job, PaintCourse& course, bool finished) {
  if (!job.chart.empty()) {
    course.chart.title =
        fmt::format("{} after {}", job.recipe.photo->path.filename().string(), afterWords(job.recipe));
    writePicture(job.chart, lossChart(course.chart), Depth::eight);
  }
  writeSnapshotSheet(job.output, course.snapshots, finished ? "finished" : "where it was stopped");
}

RecipeInput fileNow(const fs::path& path) { return {fs::absolute(path), fileChecksum(path)}; }

// Their contents are known to be those of the recipe.
void knowAll(PaintRecipe& recipe) {
  const auto know = [](RecipeInput& input) { input.checksum = fileChecksum(input.path); };
  know(*recipe.photo);
  know(*recipe.network);
  for (RecipeInput& reference : recipe.references) know(reference);
  for (RecipePart& part : recipe.parts) know(part.mask), know(part.reference);
  for (RecipeHold& hold : recipe.holds) {
    if (hold.mask) know(*hold.mask);
  }
  for (auto* input : {&recipe.drawnLines, &recipe.linesInside}) {
    if (*input) know(**input);
  }
  if (recipe.mask) know(recipe.mask->file);
  if (recipe.painter) know(*recipe.painter);
  if (recipe.start) know(*recipe.start);
}

void tellLaid(const PaintJob& job, const Image& picture, double seconds) {
  const fs::path from = job.recipe.painting->file.path;
  if (job.progress == ProgressStyle::json) {
    sayJson(stdout, {{"event", "done"},
                     {"file", job.output.string()},
                     {"recipe", recipePathFor(job.output).string()},
                     {"width", picture.width},
                     {"height", picture.height},
                     {"seconds", seconds},
                     {"laid", from.string()},
                     {"loss", job.earlier->loss.total()}});
    return;
  }
  say(stdout, "{}: {}x{}, the painting in {} laid over the photo; nothing was painted anew\n",
      job.shownOutput(), picture.width, picture.height, from.filename().string());
}

}  // namespace

PaintCourse::PaintCourse() {
  for (const char* name : {"all", "style", "content", "colour", "smoothness", "range"})
    chart.series.push_back({name, {}});
}

void PaintCourse::take(const PaintProgress& p) {
  if (p.enlarging) return;
  if (p.step == 1) chart.levels.push_back(chart.series[0].values.size());
  const LossTerms& l = p.loss;
  const double terms[] = {l.total(), l.style, l.content, l.colour, l.smoothness, l.range};
  for (std::size_t i = 0; i < chart.series.size(); ++i) chart.series[i].values.push_back(terms[i]);
}

void PaintCourse::exchange(StateExchange& with) {
  for (auto& series : chart.series) with.values(series.values);
  with.values(chart.levels);
  with.values(snapshots);
}

void requireNames(const PaintJob& job) {
  requireWritableName(job.output);
  requireEncoding(job.output, job.recipe.settings.encoding);
  if (!job.layers.empty()) requireOpenRasterName(job.layers);
  if (!job.chart.empty()) requireWritableName(job.chart);
  requireOther(job.output, job.recipe.photo->path);
}

void requireFreeOutputs(const PaintJob& job) {
  requireFree(job.output, job.force);
  requireFree(recipePathFor(job.output), job.force);
  for (const fs::path& more : {job.layers, job.chart}) {
    if (!more.empty()) requireFree(more, job.force);
  }
  if (job.recipe.settings.snapshots.wanted()) requireFree(snapshotSheetPath(job.output), job.force);
}

bool keepsBeside(const PaintJob& job, const PhotoFormat& photo) {
  return keepsPainting(job) && liesApart(job, photo);
}

void tellOutputs(const PaintJob& job, const PhotoFormat& photo) {
  if (job.toPipe)
    say(stdout, "would write to standard output\n");
  else
    say(stdout, "would write {}{} and {}\n", job.output.string(),
        keepsBeside(job, photo) ? ", " + keptPaintingPath(job.output).string() : "",
        recipePathFor(job.output).string());
}

void writePaintRecipe(const PaintJob& job, const RecipeResult& result) {
  PaintRecipe recipe = job.recipe;
  recipe.picture = job.output.filename().string();
  if (job.fromPipe) recipe.photo.reset();  // what came through a pipe is gone
  if (!result.finished) recipe.painting.reset();
  recipe.result = result;
  writeFileAtomically(recipePathFor(job.output),
                      paintRecipeText(recipe, fs::absolute(job.output).parent_path()));
}

void writePainting(const PaintJob& asked, const Picture& photo, const Image& pixels,
                   const PaintResult& result, PaintCourse& course, double seconds) {
  PaintJob job = asked;
  const bool apart = liesApart(job, formatOf(photo, pixels));
  Image sheet = apart || !job.layers.empty() ? paintingSheet(result, job.recipe.settings.palette) : Image();
  Image picture = result.picture;
  fs::path painting = job.output;
  if (apart) {
    const std::string bytes = encodedPng(sheet, paintingDepth(job.recipe.settings, photo.depth));
    sheet = decodedPng(bytes);
    picture = laidSheet(sheet, result.photo, job.recipe.settings);
    painting = keptPaintingPath(job.output);
    if (result.finished && keepsPainting(job)) writeFileAtomically(painting, bytes);
  }
  writePainted(job, photo, pixels, picture);
  if (!job.layers.empty()) writeLayers(job, result.photo, sheet, picture, photo.depth);
  writeCourse(job, course, result.finished);
  job.recipe.painting.reset();
  if (result.finished && keepsPainting(job))
    job.recipe.painting = {fileNow(painting), checksum(makingAsRead(job.recipe))};
  writePaintRecipe(job, {JUGENDSTIL_VERSION, result.finished, result.picture.width, result.picture.height,
                         seconds, result.loss});
}

bool layAgain(const PaintJob& asked) {
  if (!asked.earlier || asked.recipe.settings.snapshots.wanted() || !asked.chart.empty()) return false;
  const auto begun = std::chrono::steady_clock::now();
  auto sheet = knownPainting(asked.recipe);
  if (!sheet) return false;
  PaintJob job = asked;
  PaintSettings& settings = job.recipe.settings;
  const Picture photo = readPicture(job.recipe.photo->path);
  if (sheet->depth != paintingDepth(settings, photo.depth)) return false;
  RecipeInput& known = job.recipe.painting->file;
  if (job.dryRun) {
    say(stdout, "the painting in {} would be laid over the photo; nothing would be painted anew\n",
        known.path.string());
    say(stdout, "would write {} and {}\n", job.output.string(), recipePathFor(job.output).string());
    return true;
  }
  const Image reduced = resizePhoto(rgbOf(photo.image), sheet->image.width, sheet->image.height);
  const Image picture = laidSheet(sheet->image, reduced, settings);
  // The picture's file is about to be another one.
  std::error_code code;
  if (fs::equivalent(known.path, job.output, code)) {
    const fs::path kept = keptPaintingPath(job.output);
    requireFree(kept, job.force);
    writePicture(kept, sheet->image, sheet->depth);
    known = fileNow(kept);
  }
  writePainted(job, photo, photo.image, picture);
  if (!job.layers.empty()) writeLayers(job, reduced, sheet->image, picture, photo.depth);
  knowAll(job.recipe);
  const std::chrono::duration<double> taken = std::chrono::steady_clock::now() - begun;
  RecipeResult result = *job.earlier;
  result.seconds = taken.count();
  writePaintRecipe(job, result);
  tellLaid(job, picture, taken.count());
  return true;
}

}  // namespace jugendstil::cli
