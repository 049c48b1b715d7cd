// SPDX-License-Identifier: Apache-2.0
#include "weave/joins.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "base/parallel.h"
#include "image/box_mean.h"
#include "weave/window.h"

namespace jugendstil {
namespace {

struct Step {
  int x = 0;
  int y = 0;
};
constexpr std::array<Step, 8> kAround{{{1, 0}, {-1, 0}, {0, 1}, {0, -1}, {1, 1}, {-1, 1}, {1, -1}, {-1, -1}}};
// What a spot costs more for each neighbour whose spot does not go on from it. The mean misfit of a window
// at a good join is 0.1 to 0.3.
constexpr float kTorn = 0.012F;
// What a spot costs more whose surroundings are shown twice as often as the mean; three times as often, twice
// that. Without it what is calm, and so fits everywhere, spreads.
constexpr float kOverused = 0.06F;
// Surroundings: so many pixels to each side.
constexpr int kUseRadius = 3;
// How fast a window's pixels count less away from its centre, in pixels.
constexpr float kFalloff = 1.8F;

std::array<float, kWindowValues> falloff() {
  std::array<float, kWindowValues> weights{};
  for (int y = -kWindow; y <= kWindow; ++y) {
    for (int x = -kWindow; x <= kWindow; ++x) {
      const float weight = std::exp(-static_cast<float>(x * x + y * y) / (2 * kFalloff * kFalloff));
      const std::size_t at = cellAt(x + kWindow, y + kWindow, kWindowSide) * kFeatures;
      for (std::size_t c = 0; c < kFeatures; ++c) weights[at + c] = weight;
    }
  }
  return weights;
}

// After so many rows progress is told: about a tenth of a second's work for a piece 8192 pixels wide.
constexpr int kRowsAtOnce = 64;

// What a pixel may become, each once.
class Candidates {
 public:
  Candidates() { seen_.fill(kUnwoven); }
  void add(Spot spot) {
    std::size_t at = spot * 2654435761U >> 25U;  // a hash of 7 bits (Knuth)
    while (seen_[at] != kUnwoven) {
      if (seen_[at] == spot) return;
      at = (at + 1) % seen_.size();
    }
    seen_[at] = spot;
    spots_[count_++] = spot;
  }
  const Spot* begin() const { return spots_.data(); }
  const Spot* end() const { return spots_.data() + count_; }

 private:
  static constexpr std::size_t kMost = 1 + kAround.size() * (1 + kAlike);
  std::array<Spot, 128> seen_;
  std::array<Spot, kMost> spots_;
  int count_ = 0;
  static_assert(kMost < 100);
};

}  // namespace

Mender::Mender(Woven& piece, const Atlas& atlas, const std::vector<Spot>& alike, std::size_t most)
    : piece_(piece),
      atlas_(atlas),
      alike_(alike),
      most_(most),
      falloff_(falloff()),
      stale_(piece.spots.size()) {}

void Mender::touchAll() { std::fill(stale_.begin(), stale_.end(), std::uint8_t{1}); }

// Whatever has some of it in its window is looked at again.
void Mender::touch(int x, int y, int width, int height) {
  for (int v = y - kWindow; v < y + height + kWindow; ++v) {
    const int row = piece_.row(v);
    for (int u = x - kWindow; u < x + width + kWindow && row >= 0; ++u) {
      const int column = piece_.column(u);
      if (column >= 0) stale_[cellAt(column, row, piece_.width)] = 1;
    }
  }
}

void Mender::mend(int passes, const std::function<void(double)>& progress) {
  constexpr std::array<Step, 4> kEveryFourth{{{0, 0}, {1, 1}, {1, 0}, {0, 1}}};
  for (int i = 0; i < passes; ++i) {
    countUses();
    for (int quarter = 0; quarter < 4; ++quarter) {
      const Step first = kEveryFourth[quarter];
      pass(first.x, first.y, [&](double part) { progress((i + (quarter + part) / 4) / passes); });
    }
  }
}

// How often each spot's surroundings are shown, against the mean of its swatch.
void Mender::countUses() {
  std::vector<float> shown(atlas_.open.size(), 0.0F);
  for (const Spot spot : piece_.spots) {
    if (spot != kUnwoven) shown[spot] += 1;
  }
  std::vector<float> there(atlas_.open.begin(), atlas_.open.end());
  uses_ = boxMeans(shown, atlas_.width, atlas_.height, kUseRadius);
  there = boxMeans(there, atlas_.width, atlas_.height, kUseRadius);
  for (const Atlas::Part& part : atlas_.parts) {
    double all = 0;
    double open = 0;
    const auto each = [&](const auto& look) {
      for (int y = 0; y < part.height; ++y) {
        for (int x = 0; x < part.width; ++x) look(atlas_.spot(part.left + x, part.top + y));
      }
    };
    each([&](Spot spot) {
      all += shown[spot];
      open += atlas_.open[spot];
    });
    const auto mean = static_cast<float>(std::max(all, 1.0) / std::max(open, 1.0));
    each([&](Spot spot) { uses_[spot] /= mean * std::max(there[spot], 1e-3F); });
  }
}

// Every second pixel of every second row from here on.
void Mender::pass(int firstX, int firstY, const std::function<void(double)>& progress) {
  const int rows = (piece_.height - firstY + 1) / 2;
  std::vector<std::vector<Change>> changes(rows);
  for (int top = 0; top < rows; top += kRowsAtOnce) {
    const int count = std::min(kRowsAtOnce, rows - top);
    parallelFor(count, [&](int j) {
      const int y = 2 * (top + j) + firstY;
      for (int x = firstX; x < piece_.width; x += 2) {
        const std::size_t pixel = cellAt(x, y, piece_.width);
        if (stale_[pixel] == 0) continue;
        stale_[pixel] = 0;
        if (!piece_.mayMove(pixel) || !atJoin(x, y)) continue;
        const Spot better = best(x, y);
        if (better != piece_.spots[pixel]) changes[top + j].push_back({pixel, better});
      }
    });
    progress(static_cast<double>(top + count) / rows);
  }
  for (const auto& row : changes) {
    for (const Change& change : row) {
      piece_.spots[change.pixel] = change.spot;
      const auto x = static_cast<int>(change.pixel % piece_.width);
      touch(x, static_cast<int>(change.pixel / piece_.width), 1, 1);
    }
  }
}

bool Mender::atJoin(int x, int y) const {
  const Spot own = piece_.at(x, y);
  for (const auto [dx, dy] : kAround) {
    const Spot there = piece_.seen(x + dx, y + dy);
    if (there != kUnwoven && there != atlas_.beside(own, dx, dy)) return true;
  }
  return false;
}

Spot Mender::best(int x, int y) const {
  Candidates candidates;
  std::array<Spot, kAround.size()> goOn{};
  candidates.add(piece_.at(x, y));
  for (std::size_t n = 0; n < kAround.size(); ++n) {
    const auto [dx, dy] = kAround[n];
    const Spot there = piece_.seen(x + dx, y + dy);
    goOn[n] = kUnwoven;
    if (there == kUnwoven) continue;
    goOn[n] = atlas_.beside(there, -dx, -dy);
    if (atlas_.isOpen(goOn[n])) candidates.add(goOn[n]);
  }
  // These after those that go on: most are left when their first rows are known to be worse.
  for (const auto [dx, dy] : kAround) {
    const Spot there = piece_.seen(x + dx, y + dy);
    for (std::size_t k = 0; k < most_ && there != kUnwoven; ++k) {
      const Spot like = atlas_.beside(alike_[std::size_t{there} * kAlike + k], -dx, -dy);
      if (atlas_.isOpen(like)) candidates.add(like);
    }
  }
  std::array<float, kWindowValues> window;
  std::array<float, kWindowValues> weights;
  const float sum = gather(x, y, window, weights);
  const auto step = kFeatures * atlas_.width;
  Spot found = piece_.at(x, y);
  float least = std::numeric_limits<float>::infinity();
  for (const Spot spot : candidates) {
    float cost = 0;
    for (const Spot next : goOn) cost += next != kUnwoven && next != spot ? kTorn : 0;
    cost += kOverused * std::max(0.0F, uses_[spot] - 1);
    if (!piece_.wish.empty()) cost += piece_.wishWeight * missed(cellAt(x, y, piece_.width), spot);
    if (cost >= least) continue;
    cost += weighedWindowDistance(window.data(), weights.data(), windowAt(atlas_, spot), step,
                                  (least - cost) * sum) /
            sum;
    if (cost < least) {
      least = cost;
      found = spot;
    }
  }
  return found;
}

float Mender::missed(std::size_t pixel, Spot spot) const {
  float sum = 0;
  for (std::size_t c = 0; c < kFeatures; ++c) {
    const float d = piece_.wish[pixel * kFeatures + c] - atlas_.map[std::size_t{spot} * kFeatures + c];
    sum += d * d;
  }
  return piece_.drawn.empty() ? sum : piece_.drawn[pixel] * sum;
}

// What lies around a pixel, and how much of it counts; the sum of that over the pixels.
float Mender::gather(int x, int y, std::array<float, kWindowValues>& window,
                     std::array<float, kWindowValues>& weights) const {
  float sum = 0;
  for (int dy = -kWindow; dy <= kWindow; ++dy) {
    const int row = piece_.row(y + dy);
    for (int dx = -kWindow; dx <= kWindow; ++dx) {
      const std::size_t to = cellAt(dx + kWindow, dy + kWindow, kWindowSide) * kFeatures;
      const int column = piece_.column(x + dx);
      const Spot spot = row < 0 || column < 0 ? kUnwoven : piece_.at(column, row);
      const bool known = spot != kUnwoven && (dx != 0 || dy != 0);
      for (std::size_t c = 0; c < kFeatures; ++c) {
        window[to + c] = known ? atlas_.features[std::size_t{spot} * kFeatures + c] : 0;
        weights[to + c] = known ? falloff_[to + c] : 0;
      }
      sum += weights[to];
    }
  }
  return sum;
}

}  // namespace jugendstil
