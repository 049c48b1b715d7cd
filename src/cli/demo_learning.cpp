// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include "cli/demo_parts.h"
#include "cli/learn_job.h"
#include "cli/recipe_options.h"

namespace jugendstil::cli {
namespace {

constexpr const char* kFilm = "pond-with-painter.mp4";
// What the clip by a painter takes for each second that the painter learns: it paints some two frames a
// second on machines that take eight minutes to learn.
constexpr double kFilmed = 0.15;

LearnJob learningOf(const Demo& demo) {
  LearnJob job;
  static_cast<RunOptions&>(job) = demo;
  job.recipe.references = {inputNamed(demo.inputs / kDemoOil)};
  job.recipe.clip = inputNamed(demo.inputs / kDemoClip);
  job.recipe.network = shippedNetworkInput();
  job.output = demo.folder / kDemoPainter;
  return job;
}

FilmJob filmOf(const Demo& demo) {
  FilmJob job;
  static_cast<RunOptions&>(job) = demo;
  job.recipe.clip = inputNamed(demo.inputs / kDemoClip);
  job.recipe.painter = inputNamed(demo.folder / kDemoPainter);
  job.recipe.network = shippedNetworkInput();
  job.output = (demo.folder / kFilm).string();
  return job;
}

}  // namespace

double learningSeconds(const Demo& demo) { return (1 + kFilmed) * foretoldSeconds(learningOf(demo)); }

DemoPart learnDemo(const Demo& demo) {
  DemoPart part{
      0,
      {"A quick painter",
       "A small network has learned the evening in oil on the clip, and paints all of it in less time "
       "than optimising takes for a frame or two.",
       {}}};
  const LearnJob learning = learningOf(demo);
  part.outcome = runLearnJob(learning);
  if (part.outcome != 0) return part;
  part.outcome = runFilmJob(filmOf(demo));
  if (part.outcome != 0) return part;
  GalleryItem film;
  film.caption = "The whole clip by the painter";
  film.file = kFilm;
  film.beside = kDemoOil;
  film.command = fmt::format("jugendstil film {} --with {} -o {}", kDemoClip, kDemoPainter, kFilm);
  GalleryItem strip;
  strip.caption = "How it learned: a frame of the clip on the way";
  strip.file = stripPath(learning.output).filename().string();
  strip.command = fmt::format("jugendstil learn {} --on {} -o {}", kDemoOil, kDemoClip, kDemoPainter);
  strip.wide = true;
  part.section.items = {film, strip};
  return part;
}

}  // namespace jugendstil::cli
