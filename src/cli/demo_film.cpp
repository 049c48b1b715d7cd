// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>

#include "cli/demo_parts.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "clip/clip.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr int kColumns = 5;
constexpr const char* kGradedAfter = "photo_references/amber_dusk.jpg";

std::string stem(const char* file) { return fs::path(file).stem().string(); }

FilmJob filmOf(const Demo& demo, const char* reference) {
  FilmJob job;
  static_cast<RunOptions&>(job) = demo;
  job.recipe.paint = paintingOf(demo);
  job.recipe.paint.longEdge = demo.scale.filmEdge;
  job.recipe.settings.frames = demo.scale.frames;
  if (!demo.steps.empty()) job.recipe.settings.frameSteps = job.recipe.paint.steps.back();
  job.recipe.clip = inputNamed(demo.inputs / kDemoClip);
  job.recipe.references = {inputNamed(demo.inputs / reference)};
  job.recipe.network = shippedNetworkInput();
  job.output = (demo.folder / fmt::format("pond-after-{}.mp4", stem(reference))).string();
  return job;
}

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

void writeSheet(const Demo& demo, const FilmJob& painted, const FilmJob& graded) {
  std::vector<SheetCell> cells;
  // A shortened film is laid below the same frames of the clip.
  const std::int64_t count = framesOf(painted.output);
  addRow(cells, demo.inputs / kDemoClip, count, "the clip");
  addRow(cells, painted.output, count, "painted after evening_impasto");
  addRow(cells, graded.output, count, "graded after amber_dusk");
  SheetOptions options;
  options.title = "Palmarium Ostermoor: a paper boat on the pond, painted and graded";
  options.columns = kColumns;
  options.cellWidth = 384;
  options.cellHeight = 216;
  const fs::path target = demo.folder / "film-sheet.png";
  writePicture(target, contactSheet(cells, options), Depth::eight);
  say(stdout, "{}: the clip, painted and graded, frame by frame\n", target.string());
}

GalleryItem itemOf(const Demo& demo, const FilmJob& job, const char* reference, const std::string& caption) {
  GalleryItem item;
  item.caption = caption;
  item.file = fs::path(job.output).filename().string();
  item.beside = reference;
  const std::string size =
      job.recipe.grade ? " --grade" : fmt::format(" --long-edge {}", demo.scale.filmEdge);
  const std::string count = demo.scale.frames > 0 ? fmt::format(" --frames {}", demo.scale.frames) : "";
  std::string steps = job.recipe.grade ? "" : stepsOption(demo);
  if (!job.recipe.grade && !demo.steps.empty())
    steps += fmt::format(" --frame-steps {}", job.recipe.settings.frameSteps);
  item.command = fmt::format("jugendstil film {} --after {}{}{}{} -o {}", kDemoClip, reference, size, count,
                             steps, item.file);
  return item;
}

}  // namespace

FilmJob paintedFilm(const Demo& demo) {
  FilmJob job = filmOf(demo, kDemoOil);
  job.chart = demo.folder / fmt::format("pond-after-{}.chart.png", stem(kDemoOil));
  return job;
}

FilmJob gradedFilm(const Demo& demo) {
  FilmJob job = filmOf(demo, kGradedAfter);
  job.recipe.grade = true;
  return job;
}

DemoPart filmDemo(const Demo& demo) {
  DemoPart part{
      0,
      {"Film",
       "A piece of a clip: a paper boat crosses the pond. Each painted frame is led by the one before it, so "
       "that strokes stay on what they paint.",
       {}}};
  const FilmJob painted = paintedFilm(demo);
  const FilmJob graded = gradedFilm(demo);
  for (const FilmJob* job : {&painted, &graded}) {
    part.outcome = runFilmJob(*job);
    if (part.outcome != 0) return part;
  }
  writeSheet(demo, painted, graded);
  part.section.items = {itemOf(demo, painted, kDemoOil, "The clip, painted after the evening in oil"),
                        itemOf(demo, graded, kGradedAfter, "The clip, graded after amber_dusk"),
                        {"Frame by frame: the clip, painted, graded", "film-sheet.png", "", "", "", true},
                        {"How steady it is: the warping error of every frame beside the clip's own",
                         painted.chart.filename().string(), "", "", "", true}};
  return part;
}

}  // namespace jugendstil::cli
