// SPDX-License-Identifier: Apache-2.0
#include "weave/follow.h"

#include <algorithm>

#include "base/parallel.h"
#include "image/box_mean.h"
#include "weave/window.h"

namespace jugendstil {
namespace {

// Where what lies there misses the layout by less, nothing better is looked for. All costs are in its terms:
// what a whole block of a bad place would miss it by is Woven::wishWeight.
constexpr float kGood = 0.1F;
// What a block costs whose outermost pixels differ from what lies around by 1, as far as that follows the
// layout itself.
constexpr float kJoin = 1;
// What a place costs more for each time that it is shown elsewhere more often than the mean, and for each
// half block of it that is shown within so many blocks.
constexpr float kUsed = 0.1F;
constexpr float kShownNear = 0.03F;
constexpr int kNear = 3;
// Blocks of which less lies in the piece are not looked at.
constexpr int kLeastInside = 4;  // a fourth
// After so many rows of blocks progress is told: about half a second's work.
constexpr int kRowsAtOnce = 12;

// The sum of all values up to each, both ways.
void sumUp(std::vector<float>& values, int width, int height) {
  for (int y = 0; y < height; ++y) {
    float sum = 0;
    for (int x = 0; x < width; ++x) {
      const std::size_t at = cellAt(x, y, width);
      sum += values[at];
      values[at] = sum + (y > 0 ? values[at - width] : 0);
    }
  }
}

// How much is seen of a place shown twice: nothing where it is even, and all from the mean strength of edges
// on.
std::vector<float> visibleAt(const std::vector<Spot>& places, const Atlas& atlas, int side) {
  std::vector<float> edges(atlas.open.size());
  double sum = 0;
  double count = 0;
  for (std::size_t i = 0; i < edges.size(); ++i) {
    edges[i] = atlas.features[i * kFeatures + kFeatures - 1];
    if (atlas.open[i] == 0) continue;
    sum += edges[i];
    count += 1;
  }
  const auto mean = static_cast<float>(sum / std::max(count, 1.0)) + 1e-6F;
  edges = boxMeans(edges, atlas.width, atlas.height, side / 2);
  std::vector<float> visible(edges.size());
  parallelFor(places.size(), [&](std::size_t p) {
    const float part = std::min(1.0F, edges[atlas.beside(places[p], side / 2, side / 2)] / mean);
    visible[places[p]] = part * part;
  });
  return visible;
}

}  // namespace

// A block of the piece while a place for it is looked for.
struct Follower::Look {
  Ground ground;  // its weights are those of joins
  BlockLook wish;
  float missed = 0;          // what it costs now
  std::vector<Spot> around;  // what is shown near by
};

Follower::Follower(Woven& piece, const Atlas& atlas, int side, std::uint64_t seed)
    : piece_(piece),
      atlas_(atlas),
      size_{side, side / 4},
      seed_(seed),
      index_(atlas, side),
      visible_(visibleAt(index_.places(), atlas, side)),
      uses_(atlas.open.size()) {}

int Follower::round(int number, const std::function<void(double)>& progress) {
  const int step = size_.side - size_.overlap;
  const int from = number % 2 == 0 ? 0 : -size_.side / 2;
  const int columns = (piece_.width - from + step - 1) / step;
  const int rows = (piece_.height - from + step - 1) / step;
  struct Laid {
    int x = 0;
    int y = 0;
    Spot spot = 0;
  };
  int laid = 0;
  for (int turn = 0; turn < 4; ++turn) {
    countUses();
    const int firstRow = turn / 2;
    std::vector<std::vector<Laid>> found((rows - firstRow + 1) / 2);
    for (int top = 0; top < countOf(found); top += kRowsAtOnce) {
      parallelFor(std::min(kRowsAtOnce, countOf(found) - top), [&](int j) {
        const int y = from + (2 * (top + j) + firstRow) * step;
        for (int i = turn % 2; i < columns; i += 2) {
          const int x = from + i * step;
          const Spot spot = better(x, y);
          if (spot != kUnwoven) found[top + j].push_back({x, y, spot});
        }
      });
      progress((turn + std::min(1.0, 1.0 * (top + kRowsAtOnce) / countOf(found))) / 4);
    }
    for (const auto& row : found) {
      for (const auto [x, y, spot] : row) {
        putDown(piece_, atlas_, x, y, spot, groundAt(piece_, atlas_, x, y, size_.side), size_);
        ++laid;
      }
    }
  }
  return laid;
}

void Follower::countUses() {
  std::vector<float> sums(atlas_.open.size(), 0.0F);
  for (const Spot spot : piece_.spots) sums[spot] += 1;
  sumUp(sums, atlas_.width, atlas_.height);
  const std::vector<Spot>& places = index_.places();
  const auto area = static_cast<float>(size_.side * size_.side);
  const float mean =
      std::max(1.0F, static_cast<float>(piece_.spots.size()) / static_cast<float>(places.size()));
  parallelFor(places.size(), [&](std::size_t p) {
    const Spot place = places[p];
    const std::size_t before = place - std::size_t{1} - atlas_.width;  // there is a margin around swatches
    const std::size_t down = before + cellAt(0, size_.side, atlas_.width);
    const float shown = sums[down + size_.side] - sums[down] - sums[before + size_.side] + sums[before];
    uses_[place] = kUsed * visible_[place] * std::max(0.0F, shown / area / mean - 1);
  });
}

// The place that follows the layout better than what lies there, or none.
Spot Follower::better(int x, int y) const {
  Look look = lookAt(x, y);
  const int area = size_.side * size_.side;
  if (look.ground.inside < area / kLeastInside || look.missed < kGood) return kUnwoven;
  look.around = shownAround(x, y);
  const std::uint64_t dice = seed_ * 1000003 + cellAt(x + size_.side, y + size_.side, piece_.width + area);
  Spot best = kUnwoven;
  float least = look.missed;
  for (const Spot place : index_.nearest(look.wish, dice)) {
    const float cost = costOf(place, look);
    if (cost >= least) continue;
    least = cost;
    best = place;
  }
  return best;
}

Follower::Look Follower::lookAt(int x, int y) const {
  const int side = size_.side;
  const int half = side / 2;
  Look look;
  look.ground = groundAt(piece_, atlas_, x, y, side);
  Ground& ground = look.ground;
  const float each = piece_.wishWeight / static_cast<float>(std::max(1, ground.inside));
  for (int dy = 0; dy < side; ++dy) {
    for (int dx = 0; dx < side; ++dx) {
      const std::ptrdiff_t pixel = pixelAt(piece_, x + dx, y + dy);
      if (pixel < 0) continue;
      const std::size_t at = ground.at(dx, dy);
      const float* shown = &atlas_.map[std::size_t{piece_.spots[pixel]} * kFeatures];
      const float weight = each * ground.wishWeights[at];
      const std::size_t quarter = 2 * (dy / half) + dx / half;
      float missed = 0;
      for (std::size_t c = 0; c < kFeatures; ++c) {
        const float wish = ground.wish[at + c];
        missed += (wish - shown[c]) * (wish - shown[c]);
        look.wish.quarters[quarter][c] += weight * wish;
      }
      look.wish.weights[quarter] += weight;
      look.missed += weight * missed;
      // What misses the layout is nothing to go on from.
      const bool edge = dx == 0 || dy == 0 || dx == side - 1 || dy == side - 1;
      const float join = edge ? kJoin / (1 + piece_.wishWeight * ground.wishWeights[at] * missed) : 0;
      std::fill_n(&ground.weights[at], kFeatures, join);
    }
  }
  for (std::size_t q = 0; q < 4; ++q) {
    for (float& v : look.wish.quarters[q]) v /= std::max(look.wish.weights[q], 1e-9F);
  }
  return look;
}

// Every half block of what lies around.
std::vector<Spot> Follower::shownAround(int x, int y) const {
  const int side = size_.side;
  std::vector<Spot> around;
  for (int dy = -kNear * side; dy < (kNear + 1) * side; dy += side / 2) {
    for (int dx = -kNear * side; dx < (kNear + 1) * side; dx += side / 2) {
      if (dx >= 0 && dx < side && dy >= 0 && dy < side) continue;
      const Spot there = piece_.seen(x + dx, y + dy);
      if (there != kUnwoven) around.push_back(there);
    }
  }
  return around;
}

float Follower::costOf(Spot place, const Look& look) const {
  const auto left = static_cast<int>(place % atlas_.width);
  const auto top = static_cast<int>(place / atlas_.width);
  const auto isIn = [&](Spot spot) {
    const int x = static_cast<int>(spot % atlas_.width) - left;
    const int y = static_cast<int>(spot / atlas_.width) - top;
    return x >= 0 && x < size_.side && y >= 0 && y < size_.side;
  };
  const auto near = static_cast<float>(std::count_if(look.around.begin(), look.around.end(), isIn));
  const Ground& ground = look.ground;
  const auto step = kFeatures * atlas_.width;
  const std::size_t from = std::size_t{place} * kFeatures;
  const float join = blockDistance(ground.features.data(), ground.weights.data(), &atlas_.features[from],
                                   step, ground.length, size_.side);
  const float missed = blockDistance(ground.wish.data(), ground.wishWeights.data(), &atlas_.map[from], step,
                                     ground.length, size_.side);
  return uses_[place] + kShownNear * visible_[place] * near +
         (join + piece_.wishWeight * missed) / static_cast<float>(ground.inside);
}

}  // namespace jugendstil
