// SPDX-License-Identifier: Apache-2.0
#include "amplify/amplify.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>

#include "amplify/ascent.h"
#include "base/error.h"
#include "base/number.h"
#include "base/words.h"
#include "image/mask.h"
#include "paint/canvas.h"
#include "paint/finish.h"
#include "paint/plan.h"
#include "paint/reference.h"

namespace jugendstil {
namespace {

// The distance from the photo at strength 100, in opponent axes: there little of it can be made out.
constexpr double kFarthest = 0.24;
// The steps of the last size, which cost most, and of those before it.
constexpr int kLastSteps = 9;
constexpr int kSteps = 16;
// A picture of this longer side has patterns of two sizes where nothing is said.
constexpr double kTwoSizesAt = 768;
// Once the steps are done the reach is used up, or nearly: the rest is made up for by this much at most.
constexpr double kMostStretch = 1.5;
constexpr int kLeastSide = 32;

struct Weighted {
  std::size_t band;
  double weight;
};

std::vector<Weighted> bandsOf(const Chain& chain, const AmplifySettings& settings) {
  std::vector<std::string> known;
  for (const Band& band : chain.bands) known.push_back(band.name);
  std::vector<Weighted> bands;
  double sum = 0;
  for (const auto& [name, weight] : settings.bands) {
    if (std::find(known.begin(), known.end(), name) == known.end()) {
      const std::string near = nearestWord(name, known);
      throw UsageError(fmt::format("the network has no band \"{}\"{}; it has {}", name,
                                   near.empty() ? "" : fmt::format(" (did you mean \"{}\"?)", near),
                                   fmt::join(known, ", ")));
    }
    bands.push_back({chain.bandIndex(name), weight});
    sum += weight;
  }
  for (Weighted& b : bands) b.weight /= sum;
  return bands;
}

// Of the band that sees most.
double smallestOf(const Chain& chain, const std::vector<Weighted>& bands) {
  double size = 0;
  for (const Weighted& b : bands) size = std::max(size, smallestPattern(chain.bands[b.band]));
  return size;
}

// In pixels of a result of this size.
double patternFor(const AmplifySettings& settings, double smallest, Size size) {
  const int edge = std::max(size.width, size.height);
  if (settings.pattern.value == 0) return std::max(smallest, smallest * 2 * edge / kTwoSizesAt);
  const double pattern = settings.pattern.part ? settings.pattern.value / 100 * edge : settings.pattern.value;
  // Half a pixel is rounding.
  if (pattern < smallest - 0.5)
    throw UsageError(fmt::format(
        "pattern {} is {:.0f} pixels here, and band {} has none below {:.0f}; choose a larger pattern or a "
        "finer band",
        amplifySettingText(settings, "pattern"), pattern, amplifySettingText(settings, "band"), smallest));
  if (pattern > std::min(size.width, size.height))
    throw UsageError(fmt::format("pattern {} is {:.0f} pixels here, larger than the picture of {}x{}",
                                 amplifySettingText(settings, "pattern"), pattern, size.width, size.height));
  return pattern;
}

// The plan of one size, as painting has it: margins, memory, tiles.
PaintPlan planOfSize(Size photo, const AmplifySettings& settings, int edge, const Chain& chain) {
  PaintSettings one = settings.painting;
  one.brushwork = one.finish = one.proof = false;
  one.levels = 1;
  one.longEdge = edge;
  return planPainting(photo, one, chain);
}

// With a margin: the zeros around convolutions would be a pattern of their own.
BandMoments momentsOver(const Chain& chain, std::size_t band, const Image& picture, std::size_t budget,
                        Precision precision) {
  const LevelPlan level = canvasFor({picture.width, picture.height});
  Evaluator evaluator(chain, level.canvas.width, level.canvas.height, precision, {band}, budget);
  const Planes shown = forwardPicture(evaluator, toCanvas(picture, level));
  return {evaluator.gram(band), evaluator.mean(band)};
}

std::vector<BandDrive> drivesAt(const Chain& chain, const AmplifyInputs& inputs,
                                const AmplifySettings& settings, const LevelPlan& level, const Image& photo) {
  const Precision precision = chosenPrecision(settings.painting.precision);
  std::vector<BandDrive> drives;
  for (const Weighted& b : bandsOf(chain, settings)) {
    BandDrive drive{b.band, b.weight, {}, {}};
    std::vector<float> means(chain.bands[b.band].channels);
    if (settings.channels.woken > 0) means = momentsOver(chain, b.band, photo, level.budget, precision).mean;
    drive.kept = keptChannels(settings.channels, chain.bands[b.band].name, means);
    for (const PaintReference& reference : inputs.towards) {
      const Image scaled = scaledReference(reference.image, level.picture, settings.painting.stroke);
      addCovariance(momentsOver(chain, b.band, scaled, level.budget, precision), reference.share,
                    drive.reference);
    }
    drives.push_back(std::move(drive));
  }
  return drives;
}

// Photo and change together. What would leave the range of colours comes near its end instead of being cut
// off there, flat; a change of half the room there is stays as it is to 2 %.
Image changed(const Image& photo, const Image& change, double part) {
  Image out = photo;
  for (std::size_t i = 0; i < out.pixels.size(); ++i) {
    const float value = std::clamp(photo.pixels[i], 0.0F, 1.0F);
    const float by = static_cast<float>(part) * change.pixels[i];
    const float room = by > 0 ? 1 - value : value;
    if (room <= 0) continue;
    const float used = by / room;
    out.pixels[i] = value + by / std::sqrt(std::sqrt(1 + used * used * used * used));
  }
  return out;
}

void add(Image& to, const Image& more, double part) {
  for (std::size_t i = 0; i < to.pixels.size(); ++i)
    to.pixels[i] += static_cast<float>(part) * more.pixels[i];
}

}  // namespace

double AmplifyPlan::work() const {
  double sum = 0;
  for (const LevelPlan& level : sizes) sum += level.work();
  return sum;
}

double smallestPattern(const Band& band) { return std::max(2.0, band.receptiveField / 2.0); }

AmplifyPlan planAmplifying(Size photo, const AmplifySettings& settings, const Chain& chain) {
  const PaintSettings& paint = settings.painting;
  const std::vector<Weighted> bands = bandsOf(chain, settings);
  const int longer = std::max(photo.width, photo.height);
  const int asked = longEdgeFor(photo, paint);
  const int edge = paint.finish ? std::max(asked, longer) : asked;
  const Size whole = sizeForLongEdge(photo.width, photo.height, edge);
  if (std::min(whole.width, whole.height) < kLeastSide)
    throw Error(fmt::format("{}x{} is too small to amplify; it needs at least {} pixels a side", whole.width,
                            whole.height, kLeastSide));
  for (const Weighted& b : bands) {
    const Band& band = chain.bands[b.band];
    keptChannels(settings.channels, band.name, std::vector<float>(band.channels));
  }
  const double smallest = smallestOf(chain, bands);
  AmplifyPlan plan;
  plan.pattern = patternFor(settings, smallest, whole);
  const double ratio = std::max(1.0, plan.pattern / smallest);
  const int count = 1 + static_cast<int>(std::ceil(std::log2(ratio) - 0.01));
  for (int i = 0; i < count; ++i) {
    const double smaller = count == 1 ? 1 : std::pow(ratio, 1 - 1.0 * i / (count - 1));
    const PaintPlan one = planOfSize(photo, settings, std::max(kLeastSide, rounded(edge / smaller)), chain);
    plan.sizes.push_back(one.levels[0]);
    plan.sizes.back().steps = i + 1 == count ? kLastSteps : kSteps;
    plan.memory = std::max(plan.memory, one.memory);
    plan.tiled = plan.tiled || one.tiled;
  }
  if (paint.proof && count > 1) {
    plan.sizes.pop_back();
    plan.pattern *= 1.0 * plan.sizes.back().picture.width / whole.width;
  }
  return plan;
}

Image amplified(const Chain& chain, const AmplifyInputs& inputs, const AmplifySettings& settings,
                const AmplifyCallbacks& callbacks) {
  const AmplifyPlan plan = planAmplifying({inputs.photo.width, inputs.photo.height}, settings, chain);
  const double reach = kFarthest * settings.strength / 100;
  const auto photoAt = [&](Size size) { return rgbOf(resizePhoto(inputs.photo, size.width, size.height)); };
  Image photo = photoAt(plan.size());
  if (reach <= 0) return photo;
  const double smallest = smallestOf(chain, bandsOf(chain, settings));
  double done = 0;
  int steps = 0;
  Image found;  // what was added to the photo at the size before
  for (std::size_t i = 0; i < plan.sizes.size(); ++i) {
    const LevelPlan& level = plan.sizes[i];
    const Image own = photoAt(level.picture);
    Image start = own;
    if (!found.empty()) add(start, resample(found, own.width, own.height), 1);
    AscentSettings ascent;
    // Each size has as much of it as the others.
    ascent.reach = reach * std::sqrt(static_cast<double>(i + 1) / static_cast<double>(plan.sizes.size()));
    ascent.pattern = smallest;
    ascent.likeness = settings.painting.likeness;
    ascent.colours = settings.painting.palette == Palette::reference;
    ascent.precision = chosenPrecision(settings.painting.precision);
    found = strengthened(chain, drivesAt(chain, inputs, settings, level, own), level, own, start, ascent,
                         [&](int, const std::function<Image()>& present) {
                           callbacks.progress(done / plan.work());
                           const int every = settings.painting.snapshots;
                           if (callbacks.snapshot && every > 0 && steps > 0 && steps % every == 0)
                             callbacks.snapshot(clipped(present()), steps);
                           ++steps;
                           done += level.work() / level.steps;
                         });
    add(found, own, -1);
  }
  const double away = distanceOf(found, Image(found.width, found.height));
  const Image out = changed(photo, found, std::min(kMostStretch, reach / std::max(away, 1e-9)));
  const Image shown = inputs.shown.empty() ? Image() : resizedMask(inputs.shown, photo.width, photo.height);
  return laidOver(photo, out, shown, settings.painting);
}

}  // namespace jugendstil
