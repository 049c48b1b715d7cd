// SPDX-License-Identifier: Apache-2.0
#include "weave/block.h"

#include <algorithm>
#include <array>
#include <cstdint>

#include "base/error.h"
#include "weave/window.h"

namespace jugendstil {
namespace {

// Which of a block's pixels are put down: along each side that lies on something, what is beyond the cut of
// the least difference.
std::vector<std::uint8_t> cutOut(const Woven& piece, const Atlas& atlas, int x, int y, Spot spot,
                                 const Ground& ground, BlockSize size) {
  const int block = size.side;
  std::vector<float> differences(cellCount(block, block), 0.0F);
  for (int dy = 0; dy < block; ++dy) {
    for (int dx = 0; dx < block; ++dx) {
      const std::size_t at = cellAt(dx, dy, block);
      const float* there = &atlas.features[(spot + cellAt(dx, dy, atlas.width)) * kFeatures];
      for (std::size_t c = 0; c < kFeatures; ++c) {
        const float d = ground.features[ground.at(dx, dy) + c] - there[c];
        differences[at] += ground.weights[ground.at(dx, dy)] * d * d;
      }
    }
  }
  const auto known = [&](int dx, int dy) { return ground.weights[ground.at(dx, dy)] > 0; };
  std::vector<std::uint8_t> taken(cellCount(block, block), 1);
  const int deep = size.overlap;
  // `at` gives the cell for a place along a side and a depth.
  const auto cut = [&](const auto& at) {
    for (int along = 0; along < block; ++along) {
      const auto [cx, cy] = at(along, 0);
      if (!known(cx, cy) && pixelAt(piece, x + cx, y + cy) >= 0) return;
    }
    std::vector<float> sums(cellCount(deep, block));
    for (int along = 0; along < block; ++along) {
      for (int d = 0; d < deep; ++d) {
        const auto [cx, cy] = at(along, d);
        float least = 0;
        if (along > 0) {
          least = sums[cellAt(d, along - 1, deep)];
          if (d > 0) least = std::min(least, sums[cellAt(d - 1, along - 1, deep)]);
          if (d + 1 < deep) least = std::min(least, sums[cellAt(d + 1, along - 1, deep)]);
        }
        sums[cellAt(d, along, deep)] = least + differences[cellAt(cx, cy, block)];
      }
    }
    int depth = 0;
    for (int along = block - 1; along >= 0; --along) {
      const bool last = along == block - 1;
      const int to = last ? deep - 1 : std::min(deep - 1, depth + 1);
      depth = last ? 0 : std::max(0, depth - 1);
      for (int d = depth + 1; d <= to; ++d) {
        if (sums[cellAt(d, along, deep)] < sums[cellAt(depth, along, deep)]) depth = d;
      }
      for (int d = 0; d < depth; ++d) {
        const auto [cx, cy] = at(along, d);
        if (known(cx, cy)) taken[cellAt(cx, cy, block)] = 0;
      }
    }
  };
  using Cell = std::array<int, 2>;
  cut([](int along, int d) { return Cell{d, along}; });
  cut([](int along, int d) { return Cell{along, d}; });
  cut([&](int along, int d) { return Cell{block - 1 - d, along}; });
  cut([&](int along, int d) { return Cell{along, block - 1 - d}; });
  return taken;
}

bool fits(const Atlas& atlas, Spot spot, int side) {
  for (int y = 0; y < side; ++y) {
    for (int x = 0; x < side; ++x) {
      if (!atlas.isOpen(atlas.beside(spot, x, y))) return false;
    }
  }
  return true;
}

}  // namespace

std::ptrdiff_t pixelAt(const Woven& piece, int x, int y) {
  const int column = piece.column(x);
  const int row = piece.row(y);
  return column < 0 || row < 0 ? -1 : static_cast<std::ptrdiff_t>(cellAt(column, row, piece.width));
}

Ground groundAt(const Woven& piece, const Atlas& atlas, int x, int y, int block) {
  Ground ground;
  ground.length = (kFeatures * block + kBlockValues - 1) / kBlockValues * kBlockValues;
  const std::size_t values = ground.length * block;
  ground.features.resize(values);
  ground.weights.resize(values);
  if (!piece.wish.empty()) {
    ground.wish.resize(values);
    ground.wishWeights.resize(values);
  }
  for (int dy = 0; dy < block; ++dy) {
    for (int dx = 0; dx < block; ++dx) {
      const std::ptrdiff_t pixel = pixelAt(piece, x + dx, y + dy);
      if (pixel < 0) continue;
      ++ground.inside;
      const std::size_t to = ground.at(dx, dy);
      const Spot there = piece.spots[pixel];
      if (there != kUnwoven) {
        std::copy_n(&atlas.features[std::size_t{there} * kFeatures], kFeatures, &ground.features[to]);
        std::fill_n(&ground.weights[to], kFeatures, 1.0F);
        ++ground.known;
      }
      if (!ground.wish.empty()) {
        std::copy_n(&piece.wish[pixel * kFeatures], kFeatures, &ground.wish[to]);
        std::fill_n(&ground.wishWeights[to], kFeatures, piece.drawn.empty() ? 1.0F : piece.drawn[pixel]);
      }
    }
  }
  return ground;
}

void putDown(Woven& piece, const Atlas& atlas, int x, int y, Spot spot, const Ground& ground,
             BlockSize size) {
  const std::vector<std::uint8_t> taken = cutOut(piece, atlas, x, y, spot, ground, size);
  for (int dy = 0; dy < size.side; ++dy) {
    for (int dx = 0; dx < size.side; ++dx) {
      const std::ptrdiff_t pixel = pixelAt(piece, x + dx, y + dy);
      if (pixel < 0 || piece.stays(pixel) || taken[cellAt(dx, dy, size.side)] == 0) continue;
      piece.spots[pixel] = atlas.beside(spot, dx, dy);
    }
  }
}

std::vector<Spot> placesFor(const Atlas& atlas, int side) {
  std::vector<Spot> places;
  for (const Atlas::Part& part : atlas.parts) {
    for (int y = 0; y + side <= part.height; ++y) {
      for (int x = 0; x + side <= part.width; ++x) {
        const Spot spot = atlas.spot(part.left + x, part.top + y);
        if (fits(atlas, spot, side)) places.push_back(spot);
      }
    }
  }
  if (places.empty())
    throw Error(
        "there is no whole patch to weave from: the swatch is too small, or too little of it is left");
  return places;
}

}  // namespace jugendstil
