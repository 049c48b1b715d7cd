// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>

#include "cli/demo_parts.h"
#include "cli/paint_run.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

struct Titled {
  const char* name;
  const char* title;
  const char* shortName;
};
constexpr Titled kPhotos[] = {{"palm_house", "The palm house across the lily pond", "palm house"},
                              {"potting_bench", "The potting bench", "potting bench"}};
constexpr Titled kReferences[kDemoReferences] = {
    {"evening_impasto", "Evening at the lily pond, oil", "evening"},
    {"sun_lily_mosaic", "The sun lily, mosaic", "mosaic"},
    {"moon_linocut", "Moon over the garden, linocut", "linocut"}};

std::string photoFile(const Titled& photo) { return fmt::format("photos/{}.jpg", photo.name); }
std::string referenceFile(const Titled& reference) {
  return fmt::format("references/{}.jpg", reference.name);
}

PaintJob jobOf(const Demo& demo, const Titled& photo, const Titled& reference) {
  PaintJob job;
  static_cast<RunOptions&>(job) = demo;
  job.recipe.settings = paintingOf(demo);
  job.recipe.settings.longEdge = demo.scale.longEdge;
  job.recipe.photo = inputNamed(demo.inputs / photoFile(photo));
  job.recipe.references = {inputNamed(demo.inputs / referenceFile(reference))};
  job.recipe.network = shippedNetworkInput();
  job.output = demo.folder / fmt::format("{}-after-{}.png", photo.name, reference.name);
  return job;
}

GalleryItem itemOf(const Demo& demo, const PaintJob& job, const Titled& photo, const Titled& reference) {
  GalleryItem item;
  item.caption = fmt::format("{}, after “{}”", photo.title, reference.title);
  item.file = job.output.filename().string();
  item.before = photoFile(photo);
  item.beside = referenceFile(reference);
  item.command = fmt::format("jugendstil paint {} --after {} --long-edge {}{} -o {}", item.before,
                             item.beside, demo.scale.longEdge, stepsOption(demo), item.file);
  return item;
}

// References across the top, photos down the side, each painting where the two meet.
void writeSheet(const Demo& demo, const std::vector<SheetCell>& cells) {
  SheetOptions sheet;
  sheet.title = "Palmarium Ostermoor: photos painted after references";
  sheet.columns = 1 + kDemoReferences;
  const fs::path target = demo.folder / "sheet.png";
  writePicture(target, contactSheet(cells, sheet), Depth::eight);
  say(stdout, "{}: all of them side by side\n", target.string());
}

}  // namespace

PaintJob firstPainting(const Demo& demo) { return jobOf(demo, kPhotos[0], kReferences[0]); }

DemoPart paintDemo(const Demo& demo, const std::function<bool()>& timeForMore) {
  DemoPart part{
      0,
      {"Painted",
       "Photos painted in the manner of references. Drag the leaf: the photo at its left, the painting at "
       "its right.",
       {}}};
  std::vector<SheetCell> cells(1);
  for (const Titled& reference : kReferences)
    cells.push_back(
        {readPicture(demo.inputs / referenceFile(reference)).image, reference.title, "reference"});
  for (int i = 0; i < demo.scale.photos; ++i) {
    const Titled& photo = kPhotos[i];
    for (const Titled& reference : kReferences) {
      if (i > 0 && !timeForMore()) break;
      if (&reference == kReferences)
        cells.push_back({readPicture(demo.inputs / photoFile(photo)).image, photo.title, "photo"});
      const PaintJob job = jobOf(demo, photo, reference);
      const bool there = demo.begun && part.section.items.empty();
      part.outcome = there ? 0 : runPaintJob(job);
      if (part.outcome != 0) return part;
      part.section.items.push_back(itemOf(demo, job, photo, reference));
      cells.push_back({readPicture(job.output).image,
                       fmt::format("{} after {}", photo.shortName, reference.shortName),
                       job.output.filename().string()});
    }
  }
  writeSheet(demo, cells);
  return part;
}

DemoPart quickDemo(const Demo& demo) {
  DemoPart part{0,
                {"At once",
                 "The painter that knows any reference needs no steps (--quick). Drag the leaf: optimised at "
                 "its left, at once at its right.",
                 {}}};
  const Titled& photo = kPhotos[0];
  for (const Titled& reference : kReferences) {
    PaintJob job = jobOf(demo, photo, reference);
    const std::string optimised = job.output.filename().string();
    job.recipe.settings.quick = true;
    job.output = demo.folder / fmt::format("{}-quick-{}.png", photo.name, reference.name);
    part.outcome = runPaintJob(job);
    if (part.outcome != 0) return part;
    GalleryItem item = itemOf(demo, job, photo, reference);
    item.command = fmt::format("jugendstil paint {} --after {} --long-edge {} --quick -o {}", item.before,
                               item.beside, demo.scale.longEdge, item.file);
    item.before = optimised;
    part.section.items.push_back(std::move(item));
  }
  return part;
}

}  // namespace jugendstil::cli
