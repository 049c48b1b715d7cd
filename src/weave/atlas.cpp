// SPDX-License-Identifier: Apache-2.0
#include "weave/atlas.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <limits>

#include "base/error.h"
#include "base/parallel.h"
#include "image/box_mean.h"
#include "image/planes.h"
#include "weave/window.h"

namespace jugendstil {
namespace {

// Lightness is compared about the mean of these surroundings.
constexpr int kSurroundings = 12;
constexpr float kChromaWeight = 0.7F;
constexpr int kEdgeSoftness = 1;
constexpr float kStructureShare = 0.25F;  // of the other features' variance
constexpr float kFlat = 1e-6F;            // a variance that is none
// Spots alike stand at least so far from the spot and from each other.
constexpr int kApart = 3;

// The strength of edges, softened.
std::vector<float> structureOf(const std::vector<float>& lightness, int width, int height) {
  std::vector<float> strength(lightness.size());
  parallelFor(height, [&](int y) {
    const std::size_t up = cellAt(0, std::max(0, y - 1), width);
    const std::size_t down = cellAt(0, std::min(height - 1, y + 1), width);
    for (int x = 0; x < width; ++x) {
      const std::size_t row = cellAt(0, y, width);
      const float across = lightness[row + std::min(width - 1, x + 1)] - lightness[row + std::max(0, x - 1)];
      const float along = lightness[down + x] - lightness[up + x];
      strength[row + x] = std::hypot(across, along);
    }
  });
  return boxMeans(strength, width, height, kEdgeSoftness);
}

double varianceOf(const std::vector<float>& values) {
  double sum = 0;
  double squares = 0;
  for (const float v : values) {
    sum += v;
    squares += static_cast<double>(v) * v;
  }
  const auto count = static_cast<double>(values.size());
  return std::max(0.0, squares / count - sum * sum / count / count);
}

std::array<std::vector<float>, kFeatures> featuresOf(const Image& picture, float tone) {
  Planes planes = opponentOf(picture);
  std::array<std::vector<float>, kFeatures> features;
  features[3] = structureOf(planes.plane[0], planes.width, planes.height);
  const std::vector<float> means = boxMeans(planes.plane[0], planes.width, planes.height, kSurroundings);
  for (std::size_t i = 0; i < means.size(); ++i) planes.plane[0][i] -= (1 - tone) * means[i];
  for (std::size_t c = 0; c < 3; ++c) features[c] = std::move(planes.plane[c]);
  for (float& v : features[1]) v *= kChromaWeight;
  for (float& v : features[2]) v *= kChromaWeight;
  const double variance = varianceOf(features[0]) + varianceOf(features[1]) + varianceOf(features[2]);
  const auto scale = static_cast<float>(1 / std::sqrt(variance + kFlat));
  const auto structure = static_cast<float>(std::sqrt(kStructureShare / (varianceOf(features[3]) + kFlat)));
  for (std::size_t c = 0; c < kFeatures; ++c) {
    for (float& v : features[c]) v *= c < 3 ? scale : structure;
  }
  return features;
}

void enter(Atlas& atlas, const Atlas::Part& part, const SwatchLevel& swatch, float tone) {
  const auto features = featuresOf(swatch.picture, tone);
  for (int y = -kWindow; y < part.height + kWindow; ++y) {
    for (int x = -kWindow; x < part.width + kWindow; ++x) {
      const int fromX = std::clamp(x, 0, part.width - 1);
      const int fromY = std::clamp(y, 0, part.height - 1);
      const Spot spot = atlas.spot(part.left + x, part.top + y);
      const std::size_t from = cellAt(fromX, fromY, part.width);
      for (std::size_t c = 0; c < kFeatures; ++c) atlas.features[spot * kFeatures + c] = features[c][from];
      for (int c = 0; c < swatch.map.channels && !swatch.map.empty(); ++c)
        atlas.map[spot * kFeatures + c] = swatch.map.pixel(from)[c];
      const bool inside = x == fromX && y == fromY;
      atlas.open[spot] = inside && (swatch.closed.empty() || swatch.closed.pixels[from] <= 0) ? 1 : 0;
    }
  }
}

// The best so far of one spot, the most alike first.
struct Found {
  std::array<Spot, kAlike> spots{};
  std::array<float, kAlike> costs{};

  explicit Found(Spot self) {
    spots.fill(self);
    costs.fill(std::numeric_limits<float>::infinity());
  }
};

bool near(const Atlas& atlas, Spot a, Spot b) {
  const int dx = static_cast<int>(a % atlas.width) - static_cast<int>(b % atlas.width);
  const int dy = static_cast<int>(a / atlas.width) - static_cast<int>(b / atlas.width);
  return std::abs(dx) < kApart && std::abs(dy) < kApart;
}

void consider(const Atlas& atlas, Spot self, Spot other, Found& found) {
  if (atlas.open[other] == 0 || near(atlas, self, other)) return;
  const auto step = kFeatures * atlas.width;
  const float cost = windowDistance(windowAt(atlas, self), step, windowAt(atlas, other), step);
  if (cost >= found.costs[kAlike - 1]) return;
  // One beside another that was found takes its room or none.
  std::size_t room = kAlike - 1;
  for (std::size_t k = 0; k < kAlike; ++k) {
    if (found.costs[k] < std::numeric_limits<float>::infinity() && near(atlas, found.spots[k], other)) {
      if (cost >= found.costs[k]) return;
      room = k;
      break;
    }
  }
  for (; room > 0 && found.costs[room - 1] > cost; --room) {
    found.costs[room] = found.costs[room - 1];
    found.spots[room] = found.spots[room - 1];
  }
  found.costs[room] = cost;
  found.spots[room] = other;
}

template <typename Look>
std::vector<Spot> alikeBy(const Atlas& atlas, const Look& look) {
  std::vector<Spot> all(atlas.open.size() * kAlike);
  parallelFor(atlas.height, [&](int y) {
    for (int x = 0; x < atlas.width; ++x) {
      const Spot self = atlas.spot(x, y);
      Found found(self);
      if (atlas.open[self] != 0) look(self, found);
      std::copy(found.spots.begin(), found.spots.end(), &all[std::size_t{self} * kAlike]);
    }
  });
  return all;
}

}  // namespace

Atlas atlasOf(const std::vector<SwatchLevel>& swatches, float tone) {
  Atlas atlas;
  bool mapped = false;
  for (const SwatchLevel& swatch : swatches) {
    const int width = swatch.picture.width;
    const int height = swatch.picture.height;
    atlas.parts.push_back({kWindow, atlas.height + kWindow, width, height});
    atlas.width = std::max(atlas.width, width + 2 * kWindow);
    atlas.height += height + 2 * kWindow;
    mapped = mapped || !swatch.map.empty();
  }
  const std::size_t spots = cellCount(atlas.width, atlas.height);
  // Rows of blocks are read in whole vectors, which may reach beyond the last spot.
  atlas.features.resize(spots * kFeatures + kBlockValues);
  atlas.open.resize(spots);
  if (mapped) atlas.map.resize(spots * kFeatures + kBlockValues);
  for (std::size_t s = 0; s < swatches.size(); ++s) enter(atlas, atlas.parts[s], swatches[s], tone);
  if (std::find(atlas.open.begin(), atlas.open.end(), 1) == atlas.open.end())
    throw Error("there is nothing that could be woven from: the mask leaves no whole patch of the picture");
  return atlas;
}

Atlas::Pixel Atlas::pixel(Spot spot) const {
  const int x = static_cast<int>(spot % width);
  const int y = static_cast<int>(spot / width);
  int swatch = countOf(parts) - 1;
  while (swatch > 0 && y < parts[swatch].top) --swatch;
  return {swatch, x - parts[swatch].left, y - parts[swatch].top};
}

std::vector<Spot> alikeOf(const Atlas& atlas) {
  return alikeBy(atlas, [&](Spot self, Found& found) {
    const Atlas::Part& part = atlas.parts[atlas.pixel(self).swatch];
    for (int y = 0; y < part.height; ++y) {
      for (int x = 0; x < part.width; ++x)
        consider(atlas, self, atlas.spot(part.left + x, part.top + y), found);
    }
  });
}

std::vector<Spot> alikeOf(const Atlas& atlas, const Atlas& coarser, const std::vector<Spot>& alike) {
  return alikeBy(atlas, [&](Spot self, Found& found) {
    const auto [swatch, x, y] = atlas.pixel(self);
    const Atlas::Part& from = coarser.parts[swatch];
    const Spot parent = coarser.spot(from.left + std::min(x / 2, from.width - 1),
                                     from.top + std::min(y / 2, from.height - 1));
    for (int k = 0; k < kAlike; ++k) {
      const Spot other = alike[std::size_t{parent} * kAlike + k];
      if (other == parent) continue;
      const auto [s, px, py] = coarser.pixel(other);
      const Atlas::Part& part = atlas.parts[s];
      for (int dy = -1; dy <= 1; ++dy) {
        for (int dx = -1; dx <= 1; ++dx) {
          const int ox = std::clamp(2 * px + x % 2 + dx, 0, part.width - 1);
          const int oy = std::clamp(2 * py + y % 2 + dy, 0, part.height - 1);
          consider(atlas, self, atlas.spot(part.left + ox, part.top + oy), found);
        }
      }
    }
  });
}

Spot finerSpot(const Atlas& finer, const Atlas& coarser, Spot spot, int oddX, int oddY) {
  const auto [swatch, x, y] = coarser.pixel(spot);
  const Atlas::Part& part = finer.parts[swatch];
  return finer.spot(part.left + std::min(2 * x + oddX, part.width - 1),
                    part.top + std::min(2 * y + oddY, part.height - 1));
}

}  // namespace jugendstil
