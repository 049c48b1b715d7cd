// SPDX-License-Identifier: Apache-2.0
#include "weave/weave.h"

#include <algorithm>

#include "base/error.h"
#include "image/mask.h"
#include "image/resample.h"
#include "weave/grow.h"
#include "weave/layout.h"
#include "weave/mix.h"

namespace jugendstil {
namespace {

// Patches of several swatches are so wide, in edges of the smallest.
constexpr double kPatch = 0.8;
// How much of a grey map's range a soft change takes.
constexpr double kSoft = 0.35;
// How much a layout counts: a label has to be kept, a tone is a wish.
constexpr float kLabelWeight = 4;
constexpr float kToneWeight = 2;

// A whole piece of one swatch or under one layout.
GrowInputs plainInputs(const WeaveInputs& inputs) {
  GrowInputs grow;
  grow.width = inputs.width;
  grow.height = inputs.height;
  grow.repeats = inputs.repeats;
  grow.seed = inputs.seed;
  return grow;
}

std::vector<Image> sharesOf(const WeaveInputs& inputs) {
  int edge = inputs.swatches.front().picture.width;
  std::vector<double> shares;
  for (const WeaveSwatch& s : inputs.swatches) {
    edge = std::min({edge, s.picture.width, s.picture.height});
    shares.push_back(s.share);
  }
  const Image grey = inputs.over.empty() ? driftingTones(inputs.width, inputs.height, inputs.repeats,
                                                         kPatch * edge, inputs.seed)
                                         : resizedMask(inputs.over, inputs.width, inputs.height);
  return sharesOver(grey, shares, inputs.mix == Mix::blended ? kSoft : 0);
}

Image mixed(const WeaveInputs& inputs, const std::function<void(double)>& progress) {
  if (countOf(inputs.swatches) > kMostSwatches)
    throw UsageError("at most " + std::to_string(kMostSwatches) + " swatches can be mixed");
  const std::vector<Image> shares = sharesOf(inputs);
  GrowInputs grow = plainInputs(inputs);
  if (inputs.mix == Mix::blended) {
    std::vector<Image> pieces;
    const double count = countOf(inputs.swatches);
    for (const WeaveSwatch& swatch : inputs.swatches) {
      grow.swatches = {{swatch.picture, {}}};
      const double done = static_cast<double>(pieces.size());
      pieces.push_back(grownPicture(grow, [&](double part) { progress((done + part) / count); }));
    }
    return blended(pieces, shares);
  }
  grow.layout = layoutOf(shares);
  grow.layoutWeight = kLabelWeight;
  for (const WeaveSwatch& swatch : inputs.swatches) {
    Image map(swatch.picture.width, swatch.picture.height);
    const auto sign = signOf(countOf(grow.swatches));
    for (std::size_t i = 0; i < map.area(); ++i) std::copy(sign.begin(), sign.end(), map.pixel(i));
    grow.swatches.push_back({swatch.picture, std::move(map)});
  }
  return grownPicture(grow, progress);
}

Image alongLayout(const WeaveInputs& inputs, const std::function<void(double)>& progress) {
  GrowInputs grow = plainInputs(inputs);
  const Image& swatch = inputs.swatches.front().picture;
  if (inputs.layoutMap.empty()) {
    grow.layout = toneWish(resample(inputs.layout, inputs.width, inputs.height));
    grow.layoutWeight = kToneWeight;
    grow.swatches = {{swatch, toneMap(swatch)}};
  } else {
    requireColoursOf(inputs.layout, inputs.layoutMap);
    grow.layout = clipped(resample(inputs.layout, inputs.width, inputs.height));
    grow.layoutWeight = kLabelWeight;
    grow.swatches = {{swatch, inputs.layoutMap}};
  }
  return grownPicture(grow, progress);
}

Image filled(const WeaveInputs& inputs, const std::function<void(double)>& progress) {
  GrowInputs grow = plainInputs(inputs);
  grow.width = inputs.picture.width;
  grow.height = inputs.picture.height;
  grow.hole = inputs.hole;
  grow.swatches = {{inputs.picture, {}}};
  for (const WeaveSwatch& swatch : inputs.swatches) grow.swatches.push_back({swatch.picture, {}});
  return grownPicture(grow, progress);
}

}  // namespace

Image weave(const WeaveInputs& inputs, const std::function<void(double)>& progress) {
  if (!inputs.hole.empty()) return filled(inputs, progress);
  if (!inputs.layout.empty()) return alongLayout(inputs, progress);
  if (inputs.swatches.size() > 1) return mixed(inputs, progress);
  GrowInputs grow = plainInputs(inputs);
  grow.swatches = {{inputs.swatches.front().picture, {}}};
  return grownPicture(grow, progress);
}

}  // namespace jugendstil
