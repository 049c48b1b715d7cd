// SPDX-License-Identifier: Apache-2.0
#include "plain_quilting.h"

#include <algorithm>
#include <array>
#include <vector>

#include "base/parallel.h"
#include "weave/dice.h"

namespace bench {
namespace {

using namespace jugendstil;

constexpr int kBlock = 48;
constexpr int kOverlap = 8;
constexpr int kEvery = 2;  // of the swatch's places, one in so many each way is looked at
constexpr float kTolerance = 1.1F;

float difference(const float* a, const float* b) {
  const float r = a[0] - b[0];
  const float g = a[1] - b[1];
  const float y = a[2] - b[2];
  return r * r + g * g + y * y;
}

// For each place along an overlap the depth up to which the old stays.
std::array<int, kBlock> leastCut(const std::vector<float>& errors) {
  std::vector<float> sums = errors;
  const auto at = [](int depth, int along) { return cellAt(depth, along, kOverlap); };
  for (int along = 1; along < kBlock; ++along) {
    for (int d = 0; d < kOverlap; ++d) {
      float least = sums[at(d, along - 1)];
      if (d > 0) least = std::min(least, sums[at(d - 1, along - 1)]);
      if (d + 1 < kOverlap) least = std::min(least, sums[at(d + 1, along - 1)]);
      sums[at(d, along)] += least;
    }
  }
  std::array<int, kBlock> cut{};
  for (int along = kBlock - 1; along >= 0; --along) {
    const bool last = along == kBlock - 1;
    const int from = last ? 0 : std::max(0, cut[along + 1] - 1);
    const int to = last ? kOverlap - 1 : std::min(kOverlap - 1, cut[along + 1] + 1);
    cut[along] = from;
    for (int d = from; d <= to; ++d) {
      if (sums[at(d, along)] < sums[at(cut[along], along)]) cut[along] = d;
    }
  }
  return cut;
}

}  // namespace

Grown plainQuilting(const Image& swatch, int width, int height, std::uint64_t seed) {
  Grown grown{Woven(width, height, {}), {}};
  grown.atlas.width = swatch.width;
  grown.atlas.height = swatch.height;
  grown.atlas.parts = {{0, 0, swatch.width, swatch.height}};
  Woven& piece = grown.piece;
  const auto pixel = [&](Spot spot) { return swatch.pixel(spot); };
  const int pitch = kBlock - kOverlap;
  const int across = (swatch.width - kBlock) / kEvery + 1;
  const int down = (swatch.height - kBlock) / kEvery + 1;
  std::vector<float> costs(cellCount(across, down));
  Dice dice(seed);
  for (int y = 0; y < height; y += pitch) {
    for (int x = 0; x < width; x += pitch) {
      const int right = std::min(kBlock, width - x);
      const int bottom = std::min(kBlock, height - y);
      parallelFor(down, [&](int v) {
        for (int u = 0; u < across; ++u) {
          float cost = 0;
          for (int dy = 0; dy < bottom; ++dy) {
            for (int dx = 0; dx < right; ++dx) {
              if ((x == 0 || dx >= kOverlap) && (y == 0 || dy >= kOverlap)) break;
              cost += difference(pixel(piece.at(x + dx, y + dy)),
                                 swatch.pixel(cellAt(u * kEvery + dx, v * kEvery + dy, swatch.width)));
            }
          }
          costs[cellAt(u, v, across)] = cost;
        }
      });
      const float limit = kTolerance * *std::min_element(costs.begin(), costs.end());
      int skip = dice.between(0, static_cast<int>(std::count_if(costs.begin(), costs.end(),
                                                                [&](float cost) { return cost <= limit; })));
      std::size_t chosen = 0;
      while (costs[chosen] > limit || skip-- > 0) ++chosen;
      const int u = static_cast<int>(chosen % across) * kEvery;
      const int v = static_cast<int>(chosen / across) * kEvery;
      std::array<int, kBlock> left{};
      std::array<int, kBlock> top{};
      const auto errors = [&](bool down_) {
        std::vector<float> all(cellCount(kOverlap, kBlock));
        for (int along = 0; along < (down_ ? right : bottom); ++along) {
          for (int d = 0; d < std::min(kOverlap, down_ ? bottom : right); ++d) {
            const int dx = down_ ? along : d;
            const int dy = down_ ? d : along;
            all[cellAt(d, along, kOverlap)] = difference(pixel(piece.at(x + dx, y + dy)),
                                                         swatch.pixel(cellAt(u + dx, v + dy, swatch.width)));
          }
        }
        return all;
      };
      if (x > 0) left = leastCut(errors(false));
      if (y > 0) top = leastCut(errors(true));
      for (int dy = 0; dy < bottom; ++dy) {
        for (int dx = 0; dx < right; ++dx) {
          if (dx >= left[dy] && dy >= top[dx])
            piece.spots[cellAt(x + dx, y + dy, width)] =
                static_cast<Spot>(cellAt(u + dx, v + dy, swatch.width));
        }
      }
    }
  }
  return grown;
}

}  // namespace bench
