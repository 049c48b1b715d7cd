// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>

#include <array>

#include "cli/demo_parts.h"
#include "cli/dive_inputs.h"
#include "cli/dive_job.h"
#include "cli/recipe_options.h"
#include "cli/say.h"
#include "clip/clip.h"
#include "image/picture_file.h"
#include "report/sheet.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

constexpr int kColumns = 4;
constexpr const char* kSheet = "dive-sheet.png";

// One of four seconds, by the words of the command.
struct DemoDive {
  const char* result;
  const char* title;
  const char* start;
  const char* after;  // null: amplified
  std::vector<std::pair<const char*, const char*>> settings;
};

const std::array<DemoDive, 2>& dives() {
  static const std::array<DemoDive, 2> all{{{"palm_house-dive.mp4",
                                             "Into the palm house, amplified",
                                             "photos/palm_house.jpg",
                                             nullptr,
                                             {{"zoom", "1.7/s"}, {"turn", "8/s"}, {"centre", "50%,45%"}}},
                                            {"gate-dive.mp4",
                                             "Into the gate, painted after the evening in oil",
                                             "photos/gate.jpg",
                                             kDemoOil,
                                             {{"zoom", "1.5/s"}, {"turn", "-6/s"}, {"long-edge", "480"}}}}};
  return all;
}

DiveJob jobOf(const Demo& demo, const DemoDive& dive) {
  DiveJob job;
  static_cast<RunOptions&>(job) = demo;
  DiveRecipe& recipe = job.recipe;
  recipe.start = inputNamed(demo.inputs / dive.start);
  recipe.network = shippedNetworkInput();
  if (dive.after != nullptr) {
    recipe.references = {{"", inputNamed(demo.inputs / dive.after)}};
    recipe.settings.by = DiveBy::paint;
  }
  for (const auto& [name, value] : dive.settings) setDiveSetting(recipe.settings, name, value);
  if (dive.after != nullptr && !demo.steps.empty()) {
    recipe.settings.painting().steps = paintingOf(demo).steps;
    recipe.settings.frameSteps = recipe.settings.painting().steps.back();
  }
  if (demo.scale.frames > 0) setDiveSetting(recipe.settings, "length", std::to_string(demo.scale.frames));
  job.output = (demo.folder / dive.result).string();
  return job;
}

std::string commandOf(const Demo& demo, const DemoDive& dive) {
  std::string command = fmt::format("jugendstil dive {}", dive.start);
  if (dive.after != nullptr) command += fmt::format(" --after {}{}", dive.after, stepsOption(demo));
  for (const auto& [name, value] : dive.settings) command += fmt::format(" --{} {}", name, value);
  if (demo.scale.frames > 0) command += fmt::format(" --length {}", demo.scale.frames);
  if (dive.after != nullptr && !demo.steps.empty())
    command += fmt::format(" --frame-steps {}", paintingOf(demo).steps.back());
  return command + fmt::format(" -o {}", dive.result);
}

void writeSheet(const Demo& demo) {
  std::vector<SheetCell> cells;
  for (const DemoDive& dive : dives()) {
    const auto clip = openClip((demo.folder / dive.result).string());
    const auto count = std::ssize(clip->info().times);
    for (int i = 0; i < kColumns; ++i) {
      const std::int64_t frame = (count - 1) * i / (kColumns - 1);
      clip->seek(frame);
      Image image;
      clip->read(image);
      cells.push_back({std::move(image), fmt::format("{}, frame {}", dive.result, frame), dive.title});
    }
  }
  SheetOptions options;
  options.title = "Palmarium Ostermoor: films that fall into themselves";
  options.columns = kColumns;
  options.cellWidth = 400;
  options.cellHeight = 267;
  const fs::path target = demo.folder / kSheet;
  writePicture(target, contactSheet(cells, options), Depth::eight);
  say(stdout, "{}: the dives, frame by frame\n", target.string());
}

}  // namespace

double divingSeconds(const Demo& demo) {
  double seconds = 0;
  for (const DemoDive& dive : dives()) {
    DiveJob job = jobOf(demo, dive);
    DiveFiles files;
    readDive(job.recipe, job.output, true, files);
    seconds += diveTime(job.recipe, files, planDive(files.inputs)).seconds;
  }
  return seconds;
}

DemoPart diveDemo(const Demo& demo) {
  DemoPart part{0,
                {"Dives",
                 "Films that fall into themselves: each frame is the one before, moved a little nearer and "
                 "amplified or "
                 "painted anew.",
                 {}}};
  for (const DemoDive& dive : dives()) {
    part.outcome = runDiveJob(jobOf(demo, dive));
    if (part.outcome != 0) return part;
    GalleryItem item;
    item.caption = dive.title;
    item.file = dive.result;
    if (dive.after != nullptr) item.beside = dive.after;
    item.command = commandOf(demo, dive);
    part.section.items.push_back(std::move(item));
  }
  writeSheet(demo);
  part.section.items.push_back({"Frame by frame", kSheet, "", "", "", true});
  return part;
}

}  // namespace jugendstil::cli
