// SPDX-License-Identifier: Apache-2.0
#include "amplify/further.h"

#include <algorithm>
#include <cmath>

#include "amplify/ascent.h"
#include "amplify/band_choice.h"
#include "amplify/change.h"
#include "image/resample.h"
#include "paint/finish.h"
#include "paint/plan.h"

namespace jugendstil {
namespace {

// Of the reach that a photo amplified at that strength has. What is there is carried on from frame to frame:
// more than this, and patterns jump instead of growing.
constexpr double kPart = 0.25;
constexpr int kSteps = 2;

}  // namespace

Further::Further(const Chain& chain, const AmplifySettings& settings,
                 const std::vector<PaintReference>& towards, const Image& start)
    : chain_(chain),
      settings_(settings),
      smallest_(smallestPattern(chain, chosenBands(chain, settings.bands))) {
  settings_.painting.longEdge = std::max(start.width, start.height);
  settings_.painting.proof = settings_.painting.finish = false;
  for (LevelPlan& level : planAmplifying({start.width, start.height}, settings_, chain).sizes) {
    level.steps = kSteps;
    const Image own = resample(start, level.picture.width, level.picture.height);
    sizes_.push_back({level, drivesAt(chain, towards, settings_, level, own)});
  }
}

std::vector<BandDrive> Further::drivesOf(const OneSize& size, const BandWeights& bands) const {
  std::vector<BandDrive> drives;
  for (const ChosenBand& chosen : chosenBands(chain_, bands)) {
    const auto known = std::find_if(size.drives.begin(), size.drives.end(),
                                    [&](const BandDrive& drive) { return drive.band == chosen.band; });
    drives.push_back(*known);
    drives.back().weight = chosen.weight;
  }
  return drives;
}

Image Further::go(const Image& picture, const BandWeights& bands, double strength,
                  const std::function<void(int, int)>& told) const {
  const double reach = kPart * kFarthest * strength / 100;
  if (reach <= 0) return picture;
  Image found;
  int done = 0;
  for (std::size_t i = 0; i < sizes_.size(); ++i) {
    const LevelPlan& level = sizes_[i].level;
    const Image own = resample(picture, level.picture.width, level.picture.height);
    Image start = own;
    if (!found.empty()) addTo(start, resample(found, own.width, own.height), 1);
    AscentSettings ascent;
    ascent.reach = reach * std::sqrt(static_cast<double>(i + 1) / static_cast<double>(sizes_.size()));
    ascent.pattern = smallest_;
    ascent.likeness = settings_.painting.likeness;
    ascent.colours = settings_.painting.palette == Palette::reference;
    ascent.precision = chosenPrecision(settings_.painting.precision);
    ascent.plain = true;
    found = strengthened(
        chain_, drivesOf(sizes_[i], bands), level, own, start, ascent,
        [&](int, const std::function<Image()>&) { told(done++, static_cast<int>(sizes_.size()) * kSteps); });
    addTo(found, own, -1);
  }
  return clipped(inPalette(picture, withChange(picture, found, 1), settings_.painting.palette));
}

double furtherWork(const AmplifyPlan& plan) {
  double sum = 0;
  for (const LevelPlan& level : plan.sizes) sum += level.work() / level.steps * kSteps;
  return sum;
}

}  // namespace jugendstil
