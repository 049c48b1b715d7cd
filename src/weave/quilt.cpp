// SPDX-License-Identifier: Apache-2.0
#include "weave/quilt.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <limits>

#include "base/parallel.h"
#include "weave/dice.h"
#include "weave/window.h"

namespace jugendstil {
namespace {

// Of the blocks that fit up to so much worse than the best, one is drawn.
constexpr float kTolerance = 1.1F;
// What a place costs more for each time that it is shown within a swatch's edge. A good fit costs 0.2 to 0.5;
// at 0.15 evenness was bought with blocks that fit worse.
constexpr float kUsed = 0.07F;
// Uses are counted at every so many pixels each way.
constexpr int kCounted = 2;
// In the order of filling: how far around a pixel what is known counts, and how much without a line.
constexpr int kNear = 4;
constexpr float kFlatPriority = 0.3F;
// How often a hole is gone over again, and how much what was woven counts then against what was given.
constexpr int kRelaid = 2;
constexpr float kWovenWeight = 0.3F;
// What a place costs more that is as far from a hole as the picture is wide.
constexpr float kFar = 1;
constexpr float kHeight = 4;  // one up or down counts as so many across
// A block laid over another comes from at least so far away.
constexpr int kElsewhere = 3;

}  // namespace

Quilter::Quilter(Woven& piece, const Atlas& atlas, const QuiltSizes& sizes, std::uint64_t seed)
    : piece_(piece), atlas_(atlas), sizes_(sizes), seed_(seed), places_(placesFor(atlas, sizes.block.side)) {
  costs_.resize(places_.size());
  used_.resize(places_.size());
}

void Quilter::lay(const std::function<void(double)>& progress) {
  const int pitch = sizes_.block.side - sizes_.block.overlap;
  if (!piece_.given.empty()) return layInwards(progress);
  for (int y = 0; y < piece_.height; y += pitch) {
    for (int x = 0; x < piece_.width; x += pitch)
      layAt(x, y, groundAt(piece_, atlas_, x, y, sizes_.block.side));
    progress(std::min(1.0, static_cast<double>(y + pitch) / piece_.height));
  }
}

// Around the pixel of the hole's edge that most is known around and the strongest line runs into, again and
// again: lines go on before what lies between them (Criminisi, Perez & Toyama 2004, "Region filling and
// object removal by exemplar-based image inpainting").
void Quilter::layInwards(const std::function<void(double)>& progress) {
  anyKnown_ = std::any_of(piece_.given.begin(), piece_.given.end(), [](std::uint8_t g) { return g != 0; });
  for (;;) {
    float most = -1;
    std::array<int, 2> best{};
    for (int y = 0; y < piece_.height; ++y) {
      for (int x = 0; x < piece_.width; ++x) {
        const float priority = priorityAt(x, y);
        if (priority <= most) continue;
        most = priority;
        best = {x, y};
      }
    }
    if (most < 0) break;
    const int x = best[0] - sizes_.block.side / 2;
    const int y = best[1] - sizes_.block.side / 2;
    layAt(x, y, groundAt(piece_, atlas_, x, y, sizes_.block.side));
    anyKnown_ = true;
    Spot& middle = piece_.spots[cellAt(best[0], best[1], piece_.width)];
    if (middle == kUnwoven)
      middle = places_.front();  // a cut may leave it out; it is not to be asked for again
    progress(0);
  }
  // What was laid first did not know what came after it, nor the far side of the hole.
  for (int round = 0; round < kRelaid; ++round) {
    const int step = sizes_.block.side / 2;
    for (int y = -(round * step) / 2; y < piece_.height; y += step) {
      for (int x = -(round * step) / 2; x < piece_.width; x += step) layAgain(x, y);
      progress(static_cast<double>(round) / kRelaid);
    }
  }
}

// A better block where some of it is not given.
void Quilter::layAgain(int x, int y) {
  Ground ground = groundAt(piece_, atlas_, x, y, sizes_.block.side);
  int woven = 0;
  for (int dy = 0; dy < sizes_.block.side; ++dy) {
    for (int dx = 0; dx < sizes_.block.side; ++dx) {
      const std::ptrdiff_t pixel = pixelAt(piece_, x + dx, y + dy);
      if (pixel < 0 || piece_.stays(pixel)) continue;
      ++woven;
      std::fill_n(&ground.weights[ground.at(dx, dy)], kFeatures, kWovenWeight);
    }
  }
  if (woven == 0) return;
  countUses(x, y);
  weigh(ground);
  preferNear(x, y);
  put(x, y, places_[std::min_element(costs_.begin(), costs_.end()) - costs_.begin()], ground);
}

// Of what is unwoven beside what is not; -1 elsewhere.
float Quilter::priorityAt(int x, int y) const {
  if (piece_.at(x, y) != kUnwoven) return -1;
  if (anyKnown_ && piece_.seen(x - 1, y) == kUnwoven && piece_.seen(x + 1, y) == kUnwoven &&
      piece_.seen(x, y - 1) == kUnwoven && piece_.seen(x, y + 1) == kUnwoven)
    return -1;
  int known = 0;
  for (int v = -kNear; v <= kNear; ++v) {
    for (int u = -kNear; u <= kNear; ++u) known += piece_.seen(x + u, y + v) != kUnwoven ? 1 : 0;
  }
  float edges = 0;
  for (int v = -1; v <= 1; ++v) {
    for (int u = -1; u <= 1; ++u) {
      const Spot there = piece_.seen(x + u, y + v);
      if (there != kUnwoven)
        edges = std::max(edges, atlas_.features[std::size_t{there} * kFeatures + kFeatures - 1]);
    }
  }
  return static_cast<float>(known) * (kFlatPriority + edges);
}

void Quilter::layAt(int x, int y, const Ground& ground) {
  if (ground.known == ground.inside) return;
  countUses(x, y);
  weigh(ground);
  if (!piece_.given.empty()) preferNear(x, y);
  put(x, y, drawn(), ground);
}

// What is near a hole suits it better than what is far, and what lies at its height better than what lies
// above or below: photos are made of sky, things, ground and water.
void Quilter::preferNear(int x, int y) {
  const Atlas::Part& part = atlas_.parts.front();
  const auto side = static_cast<float>(std::max(part.width, part.height));
  for (std::size_t p = 0; p < places_.size(); ++p) {
    const auto [swatch, px, py] = atlas_.pixel(places_[p]);
    if (swatch == 0)
      costs_[p] += kFar * std::hypot(static_cast<float>(px - x), kHeight * static_cast<float>(py - y)) / side;
  }
}

void Quilter::layOverWithin(int x, int y, int side) {
  const int room = std::max(0, side - sizes_.block.side);
  countUses(x, y);
  float least = std::numeric_limits<float>::max();
  std::array<int, 2> best{x, y};
  Spot spot = kUnwoven;
  for (int dy = 0; dy <= room; dy += std::max(1, room)) {
    for (int dx = 0; dx <= room; dx += std::max(1, room)) {
      weigh(groundAt(piece_, atlas_, x + dx, y + dy, sizes_.block.side));
      closeShown(x + dx, y + dy);
      const auto cheapest = std::min_element(costs_.begin(), costs_.end());
      if (*cheapest >= least) continue;
      least = *cheapest;
      best = {x + dx, y + dy};
      spot = places_[cheapest - costs_.begin()];
    }
  }
  if (spot == kUnwoven) return;
  put(best[0], best[1], spot, groundAt(piece_, atlas_, best[0], best[1], sizes_.block.side));
  settle(best[0], best[1]);
}

// Its middle is not to be mended away again: what lies around it goes on better.
void Quilter::settle(int x, int y) {
  piece_.settled.resize(piece_.spots.size());
  for (int dy = sizes_.block.overlap; dy < sizes_.block.side - sizes_.block.overlap; ++dy) {
    for (int dx = sizes_.block.overlap; dx < sizes_.block.side - sizes_.block.overlap; ++dx) {
      const std::ptrdiff_t pixel = pixelAt(piece_, x + dx, y + dy);
      if (pixel >= 0) piece_.settled[pixel] = 1;
    }
  }
}

// Nothing comes from where the block's middle comes from.
void Quilter::closeShown(int x, int y) {
  const int middle = sizes_.block.side / 2;
  const std::ptrdiff_t centre = pixelAt(piece_, x + middle, y + middle);
  if (centre < 0) {
    std::fill(costs_.begin(), costs_.end(), std::numeric_limits<float>::max());
    return;
  }
  const Spot shown = piece_.spots[centre];
  for (std::size_t p = 0; p < places_.size(); ++p) {
    const Spot own = atlas_.beside(places_[p], middle, middle);
    const int dx = std::abs(static_cast<int>(own % atlas_.width) - static_cast<int>(shown % atlas_.width));
    const int dy = std::abs(static_cast<int>(own / atlas_.width) - static_cast<int>(shown / atlas_.width));
    if (dx < kElsewhere && dy < kElsewhere) costs_[p] = std::numeric_limits<float>::max();
  }
}

void Quilter::countUses(int x, int y) {
  const int width = atlas_.width;
  uses_.assign(atlas_.open.size(), 0.0F);
  int counted = 0;
  for (int dy = -sizes_.edge; dy <= sizes_.edge; dy += kCounted) {
    const int row = piece_.row(y + dy);
    if (row < 0) continue;
    for (int dx = -sizes_.edge; dx <= sizes_.edge; dx += kCounted) {
      const int column = piece_.column(x + dx);
      if (column < 0) continue;
      const Spot spot = piece_.at(column, row);
      if (spot == kUnwoven) continue;
      uses_[spot] += kCounted * kCounted;
      ++counted;
    }
  }
  std::fill(used_.begin(), used_.end(), 0.0F);
  if (counted == 0) return;
  // Sums over the rectangle from the first spot to each.
  for (int row = 0; row < atlas_.height; ++row) {
    float sum = 0;
    for (int column = 0; column < width; ++column) {
      const std::size_t at = cellAt(column, row, width);
      sum += uses_[at];
      uses_[at] = sum + (row > 0 ? uses_[at - width] : 0);
    }
  }
  const auto area = static_cast<float>(sizes_.block.side * sizes_.block.side);
  for (std::size_t p = 0; p < places_.size(); ++p) {
    const std::size_t before = places_[p] - std::size_t{1} - width;  // there is a margin around each swatch
    const std::size_t down = std::size_t{1} * sizes_.block.side * width;
    const float sum = uses_[before + down + sizes_.block.side] - uses_[before + down] -
                      uses_[before + sizes_.block.side] + uses_[before];
    used_[p] = sum / area;
  }
}

// The costs of all places.
void Quilter::weigh(const Ground& ground) {
  const auto step = kFeatures * atlas_.width;
  const int block = sizes_.block.side;
  constexpr std::size_t kChunk = 128;
  parallelFor((places_.size() + kChunk - 1) / kChunk, [&](std::size_t chunk) {
    const std::size_t end = std::min(places_.size(), (chunk + 1) * kChunk);
    for (std::size_t p = chunk * kChunk; p < end; ++p) {
      const std::size_t from = std::size_t{places_[p]} * kFeatures;
      float cost = kUsed * used_[p];
      if (ground.known > 0) {
        cost += blockDistance(ground.features.data(), ground.weights.data(), &atlas_.features[from], step,
                              ground.length, block) /
                static_cast<float>(ground.known);
      }
      if (!ground.wish.empty()) {
        cost += piece_.wishWeight *
                blockDistance(ground.wish.data(), ground.wishWeights.data(), &atlas_.map[from], step,
                              ground.length, block) /
                static_cast<float>(ground.inside);
      }
      costs_[p] = cost;
    }
  });
}

// One of the best places.
Spot Quilter::drawn() {
  const float limit = kTolerance * *std::min_element(costs_.begin(), costs_.end()) + 1e-6F;
  const int good = static_cast<int>(
      std::count_if(costs_.begin(), costs_.end(), [&](float cost) { return cost <= limit; }));
  Dice dice(seed_ * 1000003ULL + drawn_++);
  int skip = dice.between(0, good);
  std::size_t p = 0;
  while (costs_[p] > limit || skip-- > 0) ++p;
  return places_[p];
}

void Quilter::put(int x, int y, Spot spot, const Ground& ground) {
  putDown(piece_, atlas_, x, y, spot, ground, sizes_.block);
}

}  // namespace jugendstil
