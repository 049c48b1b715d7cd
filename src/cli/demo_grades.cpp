// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include "cli/demo_parts.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

// The set that is graded: each photo after the reference that suits it, then all after one.
struct GradedPair {
  const char* photo;
  const char* title;
  const char* reference;
};
constexpr GradedPair kPairs[] = {{"palm_house", "The palm house", "noon"},
                                 {"potting_bench", "The potting bench", "amber_dusk"},
                                 {"gate", "The gate", "silver_rain"},
                                 {"corridor", "A corridor", "amber_dusk"},
                                 {"lily_pond", "The lily pond", "amber_dusk"}};
constexpr const char* kTogether = "noon";
constexpr const char* kReferences[] = {"amber_dusk", "silver_rain", kTogether};

std::string photoFile(const char* name) { return fmt::format("photos/{}.jpg", name); }
std::string referenceFile(const char* name) { return fmt::format("photo_references/{}.jpg", name); }
std::string alone(const GradedPair& pair) { return fmt::format("{}-after-{}", pair.photo, pair.reference); }
std::string together(const GradedPair& pair) {
  return fmt::format("{}-together-{}.jpg", pair.photo, kTogether);
}

GradeJob emptyJob(const Demo& demo) {
  GradeJob job;
  static_cast<RunOptions&>(job) = demo;
  job.quiet = true;
  job.progress = ProgressStyle::none;
  return job;
}

GradeJob jobOf(const Demo& demo, const GradedPair& pair) {
  GradeJob job = emptyJob(demo);
  job.recipe.photos = {{inputNamed(demo.inputs / photoFile(pair.photo)), ""}};
  job.recipe.references = {inputNamed(demo.inputs / referenceFile(pair.reference))};
  job.outputs = {demo.folder / (alone(pair) + ".jpg")};
  job.saveLook = demo.folder / (alone(pair) + ".look.toml");
  job.chart = demo.folder / (alone(pair) + ".chart.png");
  return job;
}

GradeJob jobTogether(const Demo& demo) {
  GradeJob job = emptyJob(demo);
  job.series = true;
  job.recipe.settings.together = true;
  job.recipe.references = {inputNamed(demo.inputs / referenceFile(kTogether))};
  job.saveLook = demo.folder / fmt::format("{}.look.toml", kTogether);
  for (const GradedPair& pair : kPairs) {
    job.recipe.photos.push_back({inputNamed(demo.inputs / photoFile(pair.photo)), ""});
    job.outputs.push_back(demo.folder / together(pair));
  }
  return job;
}

GalleryItem itemOf(const GradedPair& pair) {
  GalleryItem item;
  item.caption = fmt::format("{}, after {}", pair.title, pair.reference);
  item.file = alone(pair) + ".jpg";
  item.before = photoFile(pair.photo);
  item.beside = referenceFile(pair.reference);
  item.command =
      fmt::format("jugendstil grade {} --after {} --save-look {}.look.toml --chart {}.chart.png -o {}",
                  item.before, item.beside, alone(pair), alone(pair), item.file);
  return item;
}

// Photos, each after its reference, all together after one; the references at the right.
void writeSheet(const Demo& demo) {
  std::vector<SheetCell> rows[3];
  const auto shown = [&](const std::string& file) { return readPicture(demo.folder / file).image; };
  for (const GradedPair& pair : kPairs) {
    rows[0].push_back({readPicture(demo.inputs / photoFile(pair.photo)).image, pair.title, "photo"});
    rows[1].push_back(
        {shown(alone(pair) + ".jpg"), fmt::format("after {}", pair.reference), "a look of its own"});
    rows[2].push_back({shown(together(pair)), fmt::format("after {}", kTogether), "one look for all five"});
  }
  std::vector<SheetCell> cells;
  for (std::size_t i = 0; i < std::size(rows); ++i) {
    cells.insert(cells.end(), rows[i].begin(), rows[i].end());
    cells.push_back(
        {readPicture(demo.inputs / referenceFile(kReferences[i])).image, kReferences[i], "reference"});
  }
  SheetOptions options;
  options.title = "Palmarium Ostermoor: photos graded after other photos";
  options.columns = static_cast<int>(std::size(kPairs)) + 1;
  options.cellWidth = 300;
  options.cellHeight = 200;
  const fs::path target = demo.folder / "grade-sheet.png";
  writePicture(target, contactSheet(cells, options), Depth::eight);
  say(stdout, "{}: photos graded, each after its reference and all after one\n", target.string());
}

}  // namespace

std::vector<GradeJob> gradings(const Demo& demo) {
  std::vector<GradeJob> jobs;
  for (const GradedPair& pair : kPairs) jobs.push_back(jobOf(demo, pair));
  jobs.push_back(jobTogether(demo));
  return jobs;
}

DemoPart gradeDemo(const Demo& demo) {
  DemoPart part{
      0,
      {"Graded",
       "Tone, colour and local contrast of photos matched to another photo. The look of each lies beside it "
       "as .look.toml; on the sheet, all five after one look as well.",
       {}}};
  for (const GradeJob& job : gradings(demo)) {
    part.outcome = runGradeJob(job);
    if (part.outcome != 0) return part;
  }
  writeSheet(demo);
  for (const GradedPair& pair : kPairs) part.section.items.push_back(itemOf(pair));
  GalleryItem all{"All five: photos, each after a look of its own, and all after one",
                  "grade-sheet.png",
                  "",
                  "",
                  "",
                  true};
  all.command =
      fmt::format("jugendstil grade photos/*.jpg --after {} --together --save-look {}.look.toml -o graded/",
                  referenceFile(kTogether), kTogether);
  part.section.items.push_back(all);
  return part;
}

}  // namespace jugendstil::cli
