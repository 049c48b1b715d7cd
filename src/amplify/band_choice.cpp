// SPDX-License-Identifier: Apache-2.0
#include "amplify/band_choice.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "base/error.h"
#include "base/words.h"
#include "paint/canvas.h"
#include "paint/plan.h"
#include "paint/reference.h"

namespace jugendstil {
namespace {

// With a margin: the zeros around convolutions would be a pattern of their own.
BandMoments momentsOver(const Chain& chain, std::size_t band, const Image& picture, std::size_t budget,
                        Precision precision) {
  const LevelPlan level = canvasFor({picture.width, picture.height});
  Evaluator evaluator(chain, level.canvas.width, level.canvas.height, precision, {band}, budget);
  const Planes shown = forwardPicture(evaluator, toCanvas(picture, level));
  return {evaluator.gram(band), evaluator.mean(band)};
}

}  // namespace

std::vector<ChosenBand> chosenBands(const Chain& chain, const BandWeights& asked) {
  std::vector<std::string> known;
  for (const Band& band : chain.bands) known.push_back(band.name);
  std::vector<ChosenBand> bands;
  double sum = 0;
  for (const auto& [name, weight] : asked) {
    if (std::find(known.begin(), known.end(), name) == known.end()) {
      const std::string near = nearestWord(name, known);
      throw UsageError(fmt::format("the network has no band \"{}\"{}; it has {}", name,
                                   near.empty() ? "" : fmt::format(" (did you mean \"{}\"?)", near),
                                   fmt::join(known, ", ")));
    }
    bands.push_back({chain.bandIndex(name), weight});
    sum += weight;
  }
  for (ChosenBand& b : bands) b.weight /= sum;
  return bands;
}

double smallestPattern(const Band& band) { return std::max(2.0, band.receptiveField / 2.0); }

double smallestPattern(const Chain& chain, const std::vector<ChosenBand>& bands) {
  double size = 0;
  for (const ChosenBand& b : bands) size = std::max(size, smallestPattern(chain.bands[b.band]));
  return size;
}

std::vector<BandDrive> drivesAt(const Chain& chain, const std::vector<PaintReference>& towards,
                                const AmplifySettings& settings, const LevelPlan& level, const Image& photo) {
  const Precision precision = chosenPrecision(settings.painting.precision);
  std::vector<BandDrive> drives;
  for (const ChosenBand& b : chosenBands(chain, settings.bands)) {
    BandDrive drive{b.band, b.weight, {}, {}};
    std::vector<float> means(chain.bands[b.band].channels);
    if (settings.channels.woken > 0) means = momentsOver(chain, b.band, photo, level.budget, precision).mean;
    drive.kept = keptChannels(settings.channels, chain.bands[b.band].name, means);
    for (const PaintReference& reference : towards) {
      const Image scaled = scaledReference(reference.image, level.picture, settings.painting.stroke);
      addCovariance(momentsOver(chain, b.band, scaled, level.budget, precision), reference.share,
                    drive.reference);
    }
    drives.push_back(std::move(drive));
  }
  return drives;
}

}  // namespace jugendstil
