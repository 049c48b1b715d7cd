// SPDX-License-Identifier: Apache-2.0
#include "cli/dive_inputs.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/checksum.h"
#include "base/error.h"
#include "cli/calibration.h"
#include "cli/frame_words.h"
#include "cli/paint_inputs.h"
#include "cli/painters.h"
#include "cli/recipe_options.h"
#include "image/mask.h"
#include "image/picture_file.h"
#include "network/chain_file.h"
#include "paint/estimate.h"
#include "paint/frame.h"
#include "paint/plan.h"

namespace jugendstil::cli {
namespace {

namespace fs = std::filesystem;

// Seconds a pixel step of the network where nothing is known, and what a frame takes beside them for each of
// its pixels: moved, kept even, kept on disk, encoded; and laid in with brush-work, or painted at once. Two
// processors of 2026.
constexpr double kUsualRate = 2.1e-6;
constexpr double kAround = 0.9e-6;
constexpr double kBrushwork = 1.6e-6;
constexpr double kAtOnce = 0.4e-6;

// Noise has the shape of 16 by 9; a drawn mask is drawn at this size.
constexpr Size kNoiseMask{1280, 720};

void readStart(DiveRecipe& recipe, bool quiet, DiveInputs& inputs) {
  inputs.grey = recipe.noise == "grey-noise";
  if (!recipe.start) return;
  const std::string name = recipe.start->path.string();
  if (!isClipName(name)) {
    knowFile(*recipe.start, "start", quiet);
    inputs.start = rgbOf(readPicture(name).image);
    return;
  }
  if (!isFramePattern(name)) know(*recipe.start, fileEndsChecksum(name), "clip", quiet);
  inputs.clip = name;
  const auto clip = openClip(name);
  if (clip->read(inputs.start) != FrameState::read)
    throw Error(fmt::format("the first frame of {} is damaged; a dive begins with it", name));
  inputs.start = rgbOf(inputs.start);
}

void readReferences(DiveRecipe& recipe, bool quiet, DiveInputs& inputs) {
  for (TimedInput& one : recipe.references) knowFile(one.file, "reference", quiet);
  for (const auto& key : byMoment(recipe.references)) {
    Key<std::vector<PaintReference>> references{key.at, {}};
    for (const RecipeInput& one : key.value)
      references.value.push_back({rgbOf(readPicture(one.path).image), one.share});
    inputs.references.push_back(std::move(references));
  }
  for (RecipeInput& reference : recipe.towards) {
    const PaintReference whole = readReference(reference, recipe.settings.painting().trim, quiet);
    inputs.towards.push_back({trimmed(whole.image, recipe.settings.painting().trim), whole.share});
  }
}

void readQuickPainters(DiveRecipe& recipe, bool quiet, DiveFiles& files) {
  if (recipe.settings.by != DiveBy::quick) return;
  for (TimedInput& one : recipe.painters) {
    knowFile(one.file, "painter", quiet);
    files.painters.push_back(std::make_unique<QuickPainter>(readQuickPainter(one.file.path)));
    files.inputs.painters.push_back({one.at, files.painters.back().get()});
  }
  if (!recipe.painters.empty()) return;
  // The one for any reference.
  for (const auto& key : files.inputs.references) {
    files.painters.push_back(
        std::make_unique<QuickPainter>(generalPainter(key.value, files.chain, recipe.settings.painting())));
    files.inputs.painters.push_back({key.at, files.painters.back().get()});
  }
}

std::string wayText(const DiveRecipe& recipe) { return diveSettingText(recipe.settings, "by"); }

// What the time of a dive is in proportion to: pixel steps of the network and what takes as long as these.
double workOf(const DiveRecipe& recipe, const DiveFiles& files, const DivePlan& plan) {
  const DiveSettings& settings = recipe.settings;
  const double pixels = 1.0 * plan.size.width * plan.size.height;
  double frame = pixels * kAround / kUsualRate;
  double whole = 0;
  if (settings.by == DiveBy::amplify) {
    whole = plan.amplify.work();
    frame += plan.furtherWork;
  } else {
    if (settings.painting().brushwork) frame += pixels * kBrushwork / kUsualRate;
    if (settings.by == DiveBy::paint) {
      whole = wholeWork(plan.paint, files.inputs.references.front().value.size());
      frame += plan.furtherWork;
    } else {
      frame += pixels * kAtOnce / kUsualRate;
    }
  }
  const auto count = static_cast<double>(plan.frames.size());
  return whole * static_cast<double>(plan.keys) + frame * count;
}

std::string rateKey(const DiveRecipe& recipe, const DivePlan& plan) {
  const double edge = std::sqrt(1.0 * plan.size.width * plan.size.height);
  return fmt::format("{} | dive by {}{} of about {} pixels a side",
                     calibrationKey(recipe.settings.painting(), recipe.network->checksum), wayText(recipe),
                     recipe.settings.painting().brushwork ? "" : " without brush-work",
                     std::exp2(std::round(std::log2(edge))));
}

}  // namespace

void readDive(DiveRecipe& recipe, const std::string& output, bool quiet, DiveFiles& files) {
  DiveInputs& inputs = files.inputs;
  knowFile(*recipe.network, "network", quiet);
  files.chain = chainFor(readOnnx(recipe.network->path), recipe.settings.painting());
  inputs.chain = &files.chain;
  inputs.settings = recipe.settings;
  inputs.output = output;
  readStart(recipe, quiet, inputs);
  readReferences(recipe, quiet, inputs);
  readQuickPainters(recipe, quiet, files);
  if (recipe.mask) {
    knowFile(recipe.mask->file, "mask", quiet);
    const Size like = inputs.start.empty() ? kNoiseMask : Size{inputs.start.width, inputs.start.height};
    inputs.inside = readMaskFor(recipe.mask->file.path, like.width, like.height);
    if (!recipe.mask->inside) inputs.inside = inverted(std::move(inputs.inside));
  }
  if (recipe.sound) {
    knowFile(*recipe.sound, "sound", quiet);
    inputs.soundFile = recipe.sound->path.string();
    inputs.sound = readSound(inputs.soundFile);
  }
}

std::string diveMaking(const DiveRecipe& recipe, const std::string& output) {
  std::string text =
      fmt::format("jugendstil {}\noutput {}\nnetwork {}\nnoise {}\n", JUGENDSTIL_VERSION,
                  fs::path(output).filename().string(), recipe.network->checksum, recipe.noise);
  if (recipe.start) text += fmt::format("start {} {}\n", recipe.start->path.string(), recipe.start->checksum);
  for (const SettingInfo& info : diveSettingTable())
    text += fmt::format("{} = {}\n", info.name, diveSettingText(recipe.settings, info.name));
  for (const TimedInput& one : recipe.references)
    text += fmt::format("after {}={} @{}\n", one.at, one.file.checksum, one.file.share);
  for (const TimedInput& one : recipe.painters)
    text += fmt::format("with {}={}\n", one.at, one.file.checksum);
  for (const RecipeInput& one : recipe.towards)
    text += fmt::format("towards {} @{}\n", one.checksum, one.share);
  if (recipe.mask) text += fmt::format("mask {} {}\n", recipe.mask->inside, recipe.mask->file.checksum);
  if (recipe.sound) text += fmt::format("sound {}\n", recipe.sound->checksum);
  return text;
}

DiveTime diveTime(const DiveRecipe& recipe, const DiveFiles& files, const DivePlan& plan) {
  const auto known = knownRate(calibrationFile(), rateKey(recipe, plan));
  return {std::max(1.0, workOf(recipe, files, plan) * known.value_or(kUsualRate)), known.has_value()};
}

void learnDiveTime(const DiveRecipe& recipe, const DiveFiles& files, const DivePlan& plan, double seconds) {
  learnRate(calibrationFile(), rateKey(recipe, plan), seconds / workOf(recipe, files, plan), seconds);
}

}  // namespace jugendstil::cli
