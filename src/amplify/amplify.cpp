// SPDX-License-Identifier: Apache-2.0
#include "amplify/amplify.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "amplify/ascent.h"
#include "amplify/band_choice.h"
#include "amplify/change.h"
#include "base/error.h"
#include "base/number.h"
#include "image/mask.h"
#include "paint/finish.h"
#include "paint/plan.h"

namespace jugendstil {
namespace {

// The steps of the last size, which cost most, and of those before it.
constexpr int kLastSteps = 9;
constexpr int kSteps = 16;
// A picture of this longer side has patterns of two sizes where nothing is said.
constexpr double kTwoSizesAt = 768;
// Once the steps are done the reach is used up, or nearly: the rest is made up for by this much at most.
constexpr double kMostStretch = 1.5;
constexpr int kLeastSide = 32;

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

}  // namespace

double AmplifyPlan::work() const {
  double sum = 0;
  for (const LevelPlan& level : sizes) sum += level.work();
  return sum;
}

AmplifyPlan planAmplifying(Size photo, const AmplifySettings& settings, const Chain& chain) {
  const PaintSettings& paint = settings.painting;
  const std::vector<ChosenBand> bands = chosenBands(chain, settings.bands);
  const int longer = std::max(photo.width, photo.height);
  const int asked = longEdgeFor(photo, paint);
  const int edge = paint.finish ? std::max(asked, longer) : asked;
  const Size whole = sizeForLongEdge(photo.width, photo.height, edge);
  if (std::min(whole.width, whole.height) < kLeastSide)
    throw Error(fmt::format("{}x{} is too small to amplify; it needs at least {} pixels a side", whole.width,
                            whole.height, kLeastSide));
  for (const ChosenBand& b : bands) {
    const Band& band = chain.bands[b.band];
    keptChannels(settings.channels, band.name, std::vector<float>(band.channels));
  }
  const double smallest = smallestPattern(chain, bands);
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
  const double smallest = smallestPattern(chain, chosenBands(chain, settings.bands));
  double done = 0;
  int steps = 0;
  Image found;  // what was added to the photo at the size before
  for (std::size_t i = 0; i < plan.sizes.size(); ++i) {
    const LevelPlan& level = plan.sizes[i];
    const Image own = photoAt(level.picture);
    Image start = own;
    if (!found.empty()) addTo(start, resample(found, own.width, own.height), 1);
    AscentSettings ascent;
    // Each size has as much of it as the others.
    ascent.reach = reach * std::sqrt(static_cast<double>(i + 1) / static_cast<double>(plan.sizes.size()));
    ascent.pattern = smallest;
    ascent.likeness = settings.painting.likeness;
    ascent.colours = settings.painting.palette == Palette::reference;
    ascent.precision = chosenPrecision(settings.painting.precision);
    found = strengthened(chain, drivesAt(chain, inputs.towards, settings, level, own), level, own, start,
                         ascent, [&](int, const std::function<Image()>& present) {
                           callbacks.progress(done / plan.work());
                           if (callbacks.snapshot && settings.painting.snapshots.after(steps))
                             callbacks.snapshot(clipped(present()), steps);
                           ++steps;
                           done += level.work() / level.steps;
                         });
    addTo(found, own, -1);
  }
  const double away = distanceOf(found, Image(found.width, found.height));
  const Image out = withChange(photo, found, std::min(kMostStretch, reach / std::max(away, 1e-9)));
  const Image shown = inputs.shown.empty() ? Image() : resizedMask(inputs.shown, photo.width, photo.height);
  return laidOver(photo, out, shown, settings.painting);
}

}  // namespace jugendstil
