// SPDX-License-Identifier: Apache-2.0
#include "cli/demo_film.h"

#include <fmt/format.h>

#include "cli/recipe_options.h"
#include "cli/say.h"
#include "clip/clip.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr int kColumns = 5;

std::int64_t framesOf(const fs::path& file) { return std::ssize(openClip(file.string())->info().times); }

// Evenly spread ones of a clip's first `count` frames, as a row of cells.
void addRow(std::vector<SheetCell>& cells, const fs::path& file, std::int64_t count, const char* note) {
  const auto clip = openClip(file.string());
  for (int i = 0; i < kColumns; ++i) {
    const std::int64_t frame = (count - 1) * i / (kColumns - 1);
    clip->seek(frame);
    Image image;
    clip->read(image);
    cells.push_back({std::move(image), fmt::format("{}, frame {}", file.filename().string(), frame), note});
  }
}

}  // namespace

int demoFilm(const fs::path& folder, const FilmJob& job) {
  const fs::path share = shareFolder();
  FilmJob painted = job;
  painted.recipe.clip = inputNamed(share / "demo/clip/pond.mp4");
  painted.output = (folder / "pond-after-evening_impasto.mp4").string();
  painted.recipe.references = {inputNamed(share / "demo/references/evening_impasto.jpg")};
  painted.recipe.network = inputNamed(shippedNetwork());
  painted.chart = folder / "pond-after-evening_impasto.chart.png";
  int outcome = runFilmJob(painted);
  if (outcome != 0) return outcome;
  FilmJob graded = painted;
  graded.recipe.grade = true;
  graded.chart.clear();
  graded.output = (folder / "pond-after-amber_dusk.mp4").string();
  graded.recipe.references = {inputNamed(share / "demo/photo_references/amber_dusk.jpg")};
  outcome = runFilmJob(graded);
  if (outcome != 0 || job.dryRun) return outcome;
  std::vector<SheetCell> cells;
  // A shortened film is laid below the same frames of the clip.
  const std::int64_t count = framesOf(painted.output);
  addRow(cells, painted.recipe.clip->path, count, "the clip");
  addRow(cells, painted.output, count, "painted after evening_impasto");
  addRow(cells, graded.output, count, "graded after amber_dusk");
  SheetOptions options;
  options.title = "Palmarium Ostermoor: a paper boat on the pond, painted and graded";
  options.columns = kColumns;
  options.cellWidth = 384;
  options.cellHeight = 216;
  const fs::path target = folder / "film-sheet.png";
  requireFree(target, job.force);
  writePicture(target, contactSheet(cells, options), Depth::eight);
  say(stdout, "{}: the clip, painted and graded, frame by frame\n", target.string());
  return 0;
}

}  // namespace jugendstil::cli
