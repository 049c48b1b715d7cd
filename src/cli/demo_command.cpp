// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "cli/demo_film.h"
#include "cli/grade_job.h"
#include "cli/options.h"
#include "cli/paint_job.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

struct Titled {
  const char* file;
  const char* title;
  const char* shortName;
};
constexpr Titled kPhotos[] = {{"palm_house.jpg", "The palm house across the lily pond", "palm house"},
                              {"potting_bench.jpg", "The potting bench", "potting bench"}};
constexpr Titled kReferences[] = {{"evening_impasto.jpg", "Evening at the lily pond, oil", "evening"},
                                  {"sun_lily_mosaic.jpg", "The sun lily, mosaic", "mosaic"},
                                  {"moon_linocut.jpg", "Moon over the garden, linocut", "linocut"}};
constexpr int kDemoEdge = 768;
constexpr int kFilmEdge = 480;

// The set that is graded: each photo after the reference that suits it, then all after one.
struct GradedPair {
  const char* photo;
  const char* title;
  const char* reference;
};
constexpr GradedPair kGraded[] = {{"palm_house.jpg", "The palm house", "noon.jpg"},
                                  {"potting_bench.jpg", "The potting bench", "amber_dusk.jpg"},
                                  {"gate.jpg", "The gate", "silver_rain.jpg"},
                                  {"corridor.jpg", "A corridor", "amber_dusk.jpg"},
                                  {"lily_pond.jpg", "The lily pond", "amber_dusk.jpg"}};
constexpr const char* kTogether = "noon.jpg";

std::string stem(const char* file) { return fs::path(file).stem().string(); }

Image shown(const fs::path& path) { return readPicture(path).image; }

// Grades the set twice and lays it out: photos, each after its reference, all together after one.
void gradePage(const fs::path& folder, const PaintJob& job) {
  const fs::path share = shareFolder() / "demo";
  GradeJob set;
  set.force = job.force;
  set.quiet = true;
  std::vector<SheetCell> top;
  std::vector<SheetCell> middle;
  std::vector<SheetCell> bottom;
  GradeJob together = set;
  together.together = true;
  together.references = {{share / "photo_references" / kTogether, 1}};
  together.saveLook = folder / "noon.look.toml";
  for (const GradedPair& pair : kGraded) {
    const fs::path photo = share / "photos" / pair.photo;
    GradeJob one = set;
    one.photos = {photo};
    one.references = {{share / "photo_references" / pair.reference, 1}};
    one.outputs = {folder / fmt::format("{}-after-{}.jpg", stem(pair.photo), stem(pair.reference))};
    one.saveLook = folder / fmt::format("{}-after-{}.look.toml", stem(pair.photo), stem(pair.reference));
    one.chart = folder / fmt::format("{}-after-{}.chart.png", stem(pair.photo), stem(pair.reference));
    runGradeJob(one);
    together.photos.push_back(photo);
    together.outputs.push_back(folder / fmt::format("{}-together-{}.jpg", stem(pair.photo), stem(kTogether)));
    top.push_back({shown(photo), pair.title, "photo"});
    middle.push_back(
        {shown(one.outputs[0]), fmt::format("after {}", stem(pair.reference)), "a look of its own"});
  }
  runGradeJob(together);
  for (const fs::path& output : together.outputs) {
    bottom.push_back({shown(output), fmt::format("after {}", stem(kTogether)), "one look for all five"});
  }
  top.push_back({shown(share / "photo_references" / "amber_dusk.jpg"), "amber_dusk", "reference"});
  middle.push_back({shown(share / "photo_references" / "silver_rain.jpg"), "silver_rain", "reference"});
  bottom.push_back({shown(share / "photo_references" / kTogether), "noon", "reference"});
  std::vector<SheetCell> cells;
  for (const auto* row : {&top, &middle, &bottom}) cells.insert(cells.end(), row->begin(), row->end());
  SheetOptions options;
  options.title = "Palmarium Ostermoor: photos graded after other photos";
  options.columns = static_cast<int>(std::size(kGraded)) + 1;
  options.cellWidth = 300;
  options.cellHeight = 200;
  const fs::path target = folder / "grade-sheet.png";
  requireFree(target, job.force);
  writePicture(target, contactSheet(cells, options), Depth::eight);
  say(stdout, "{}: photos graded, each after its reference and all after one\n", target.string());
}

// References across the top, photos down the side, each painting where the two meet. What an interrupted one
// came to, or 0.
int paintPage(const fs::path& folder, const PaintJob& job) {
  const fs::path share = shareFolder() / "demo";
  SheetOptions sheet;
  sheet.title = "Palmarium Ostermoor: photos painted after references";
  sheet.columns = 1 + static_cast<int>(std::size(kReferences));
  std::vector<SheetCell> cells(1);
  for (const Titled& reference : kReferences) {
    cells.push_back({readPicture(share / "references" / reference.file).image, reference.title, "reference"});
  }
  for (const Titled& photo : kPhotos) {
    cells.push_back({readPicture(share / "photos" / photo.file).image, photo.title, "photo"});
    for (const Titled& reference : kReferences) {
      PaintJob one = job;
      one.recipe.photo = inputNamed(share / "photos" / photo.file);
      one.recipe.references = {inputNamed(share / "references" / reference.file)};
      one.recipe.network = inputNamed(shippedNetwork());
      one.output = folder / fmt::format("{}-after-{}.png", stem(photo.file), stem(reference.file));
      const int outcome = runPaintJob(one);
      if (outcome != 0) return outcome;
      if (job.dryRun) continue;
      cells.push_back({readPicture(one.output).image,
                       fmt::format("{} after {}", photo.shortName, reference.shortName),
                       one.output.filename().string()});
    }
  }
  if (job.dryRun) return 0;
  const fs::path target = folder / "sheet.png";
  requireFree(target, job.force);
  writePicture(target, contactSheet(cells, sheet), Depth::eight);
  say(stdout, "{}: all of them side by side\n", target.string());
  return 0;
}

}  // namespace

int demoCommand(const Words& words) {
  po::options_description all("Options", 100, 60);
  all.add_options()("folder", po::value<std::string>()->value_name("DIR"),
                    "where the pictures go (jugendstil-demo)");
  all.add_options()("long-edge", po::value<std::string>()->value_name("PX"),
                    "longer side of the paintings (768)");
  all.add_options()("steps", po::value<std::string>()->value_name("N[,N...]"), "steps of each level (auto)");
  all.add_options()("frames", po::value<std::string>()->value_name("N"),
                    "no more of the clip than N frames (all)");
  all.add(reportOptions());
  po::positional_options_description positions;
  positions.add("folder", 1);
  const auto given = parseWords(words, all, positions, "demo");
  if (given.count("help") != 0) {
    sayHelp(
        "usage: jugendstil demo [DIR] [options]\n\n"
        "Paints the Palmarium's photos after each of its paintings, grades them after its photos,\n"
        "and paints and grades its clip; a sheet for each.\n\n"
        "  jugendstil demo\n  jugendstil demo /tmp/look --long-edge 384 --frames 24\n",
        all);
    return 0;
  }
  const fs::path folder = textOf(given, "folder", "jugendstil-demo");
  PaintJob job;
  static_cast<RunOptions&>(job) = runOptionsOf(given);
  job.recipe.settings.longEdge = kDemoEdge;
  for (const char* name : {"long-edge", "steps"}) {
    if (given.count(name) != 0) setPaintSetting(job.recipe.settings, name, given[name].as<std::string>());
  }
  // What is wrong with any setting is to be said before the first stroke.
  FilmJob film;
  static_cast<RunOptions&>(film) = job;
  film.recipe.paint = job.recipe.settings;
  film.recipe.paint.longEdge = std::min(kFilmEdge, job.recipe.settings.longEdge);
  if (given.count("frames") != 0) setFilmSetting(film.recipe.settings, "frames", textOf(given, "frames"));
  if (!film.recipe.paint.steps.empty()) film.recipe.settings.frameSteps = film.recipe.paint.steps.back();
  std::error_code code;
  if (!job.dryRun) fs::create_directories(folder, code);
  if (code) throw Error(fmt::format("cannot make the folder {}: {}", folder.string(), code.message()));

  if (const int outcome = paintPage(folder, job); outcome != 0) return outcome;
  if (!job.dryRun) gradePage(folder, job);
  return demoFilm(folder, film);
}

}  // namespace jugendstil::cli
