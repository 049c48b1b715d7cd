// SPDX-License-Identifier: Apache-2.0
#include "weave/levels.h"

#include <algorithm>

#include "base/parallel.h"
#include "image/resample.h"
#include "weave/hole.h"

namespace jugendstil {
namespace {

// All spots of an atlas of so many are compared with all, in a tenth of a second.
constexpr std::size_t kMostCompared = 6000;
constexpr int kSmallEdge = 48;

Image halved(const Image& image) {
  return image.empty() ? Image() : resample(image, (image.width + 1) / 2, (image.height + 1) / 2);
}

WeaveLevel coarserOf(const WeaveLevel& level) {
  WeaveLevel coarse{
      {}, (level.width + 1) / 2, (level.height + 1) / 2, halved(level.layout), halved(level.hole)};
  for (const SwatchLevel& s : level.swatches)
    coarse.swatches.push_back({halved(s.picture), halved(s.map), {}});
  if (!coarse.hole.empty()) coarse.swatches.front().closed = closedAround(coarse.hole);
  return coarse;
}

}  // namespace

int WeaveLevel::edge() const {
  int least = swatches.front().picture.width;
  for (const SwatchLevel& s : swatches) least = std::min({least, s.picture.width, s.picture.height});
  return least;
}

std::vector<WeaveLevel> levelsFrom(WeaveLevel finest, const std::function<bool(const WeaveLevel&)>& goesOn) {
  std::vector<WeaveLevel> levels;
  levels.push_back(std::move(finest));
  while (goesOn(levels.back())) levels.push_back(coarserOf(levels.back()));
  return levels;
}

Woven unwoven(const WeaveLevel& level, const Atlas& atlas, Repeats repeats, float layoutWeight) {
  Woven piece(level.width, level.height, repeats);
  if (!level.layout.empty()) {
    piece.wish.resize(piece.spots.size() * kFeatures);
    for (std::size_t i = 0; i < piece.spots.size(); ++i)
      std::copy_n(level.layout.pixel(i), level.layout.channels, &piece.wish[i * kFeatures]);
    piece.wishWeight = layoutWeight;
  }
  if (level.hole.empty()) return piece;
  piece.given.resize(piece.spots.size());
  const Atlas::Part& part = atlas.parts.front();
  for (int y = 0; y < piece.height; ++y) {
    for (int x = 0; x < piece.width; ++x) {
      const std::size_t pixel = cellAt(x, y, piece.width);
      if (level.hole.pixels[pixel] > 0) continue;
      piece.given[pixel] = 1;
      piece.spots[pixel] = atlas.spot(part.left + x, part.top + y);
    }
  }
  return piece;
}

void takeOver(Woven& piece, const Woven& coarse, const Atlas& atlas, const Atlas& coarser) {
  if (!coarse.settled.empty()) piece.settled.resize(piece.spots.size());
  parallelFor(piece.height, [&](int y) {
    for (int x = 0; x < piece.width; ++x) {
      Spot& spot = piece.spots[cellAt(x, y, piece.width)];
      if (!coarse.settled.empty())
        piece.settled[cellAt(x, y, piece.width)] = coarse.settled[cellAt(x / 2, y / 2, coarse.width)];
      if (spot == kUnwoven) spot = finerSpot(atlas, coarser, coarse.at(x / 2, y / 2), x % 2, y % 2);
    }
  });
}

std::vector<Spot> firstAlike(const WeaveLevel& level, const Atlas& atlas, float tone) {
  WeaveLevel coarse = coarserOf(level);
  // Also with what is closed: little may be left open there.
  coarse.swatches.front().closed = {};
  const Atlas smaller = atlasOf(coarse.swatches, tone);
  const bool small = coarse.edge() < kSmallEdge && smaller.open.size() < kMostCompared;
  return alikeOf(atlas, smaller, small ? alikeOf(smaller) : firstAlike(coarse, smaller, tone));
}

}  // namespace jugendstil
