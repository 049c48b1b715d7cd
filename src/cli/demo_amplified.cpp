// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <algorithm>

#include "cli/amplify_inputs.h"
#include "cli/amplify_job.h"
#include "cli/demo_parts.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr int kLongEdge = 512;

// One photo, by the words of the command.
struct Amplified {
  const char* result;
  const char* title;
  const char* photo;
  const char* band;
  const char* strength;
  const char* towards = nullptr;
};

constexpr Amplified kAll[] = {
    {"gate-small.png", "The gate in waves: band small", "photos/gate.jpg", "small", "70"},
    {"corridor-medium.png", "The corridor in scales: band medium", "photos/corridor.jpg", "medium", "70"},
    {"palm_house-broad.png", "The palm house in forms: band broad", "photos/palm_house.jpg", "broad", "70"},
    {"gate-towards-lily_poster.png", "The gate in the poster's lines", "photos/gate.jpg", "broad", "70",
     "references/lily_poster.jpg"},
};

int longEdgeOf(const Demo& demo) { return std::min(kLongEdge, demo.scale.longEdge); }

std::string commandOf(const Demo& demo, const Amplified& a) {
  std::string command = fmt::format("jugendstil amplify {} --band {}", a.photo, a.band);
  if (a.towards != nullptr) command += fmt::format(" --towards {}", a.towards);
  return command + fmt::format(" --strength {} --long-edge {} -o {}", a.strength, longEdgeOf(demo), a.result);
}

AmplifyJob jobOf(const Demo& demo, const Amplified& a) {
  AmplifyJob job;
  static_cast<RunOptions&>(job) = demo;
  job.quiet = true;
  job.progress = ProgressStyle::none;
  AmplifyRecipe& recipe = job.recipe;
  recipe.photo = inputNamed(demo.inputs / a.photo);
  if (a.towards != nullptr) recipe.towards = {inputNamed(demo.inputs / a.towards)};
  recipe.network = shippedNetworkInput();
  setAmplifySetting(recipe.settings, "band", a.band);
  setAmplifySetting(recipe.settings, "strength", a.strength);
  recipe.settings.painting.longEdge = longEdgeOf(demo);
  job.output = demo.folder / a.result;
  return job;
}

void writeSheet(const Demo& demo) {
  std::vector<SheetCell> cells;
  for (const Amplified& a : kAll)
    cells.push_back({readPicture(demo.folder / a.result).image, a.title, a.result});
  SheetOptions options;
  options.title = "Palmarium Ostermoor: patterns amplified";
  options.columns = 2;
  options.cellWidth = 512;
  options.cellHeight = 342;
  const fs::path target = demo.folder / "amplify-sheet.png";
  writePicture(target, contactSheet(cells, options), Depth::eight);
  say(stdout, "{}: photos amplified in three bands, and one towards the poster\n", target.string());
}

}  // namespace

double amplifyingSeconds() {
  // Two sizes of the sheet's photos, 16 steps of the smaller and 9 of the larger, with their margins.
  constexpr double kWork = kLongEdge * kLongEdge / 1.5 * 1.3 * (16 / 4.0 + 9);
  double seconds = 0;
  for (const Amplified& a : kAll) {
    AmplifyRecipe recipe;
    recipe.network = shippedNetworkInput();
    setAmplifySetting(recipe.settings, "band", a.band);
    seconds += amplifySecondsFor(kWork, recipe);
  }
  return seconds;
}

DemoPart amplifyDemo(const Demo& demo) {
  DemoPart part{
      0,
      {"Amplified",
       "The patterns that the network sees in a photo, strengthened: from waves to whole forms, and "
       "towards a reference's.",
       {}}};
  for (const Amplified& a : kAll) {
    part.outcome = runAmplifyJob(jobOf(demo, a));
    if (part.outcome != 0) return part;
    GalleryItem item;
    item.caption = a.title;
    item.file = a.result;
    item.before = a.photo;
    if (a.towards != nullptr) item.beside = a.towards;
    item.command = commandOf(demo, a);
    part.section.items.push_back(std::move(item));
  }
  writeSheet(demo);
  return part;
}

}  // namespace jugendstil::cli
