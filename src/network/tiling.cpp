#include "network/tiling.h"

#include <fmt/format.h>

#include <algorithm>

#include "image/error.h"

namespace jugendstil {
namespace {

constexpr int kLeastUnit = 16;
constexpr int kMostParts = 64;

int roundUp(int value, int unit) { return (value + unit - 1) / unit * unit; }

// One axis cut into parts.
struct Axis {
  int window = 0;
  std::vector<int> ends;  // of the cores; the first one begins at 0
};

Axis cut(int length, int parts, int halo, int unit) {
  Axis axis;
  const int core = roundUp((length + parts - 1) / parts, unit);
  for (int end = core; end < length; end += core) axis.ends.push_back(end);
  axis.ends.push_back(length);
  const int sides = axis.ends.size() == 1 ? 0 : axis.ends.size() == 2 ? 1 : 2;
  axis.window = std::min(length, core + sides * halo);
  return axis;
}

int windowStart(int begin, int halo, int window, int length) {
  return std::clamp(begin - halo, 0, length - window);
}

}  // namespace

Tiling tilesFor(const Chain& chain, int width, int height, Precision precision,
                const std::vector<std::size_t>& bands, std::size_t budget) {
  int unit = kLeastUnit;
  int field = 1;
  for (const std::size_t b : bands) {
    unit = std::max(unit, chain.bands.at(b).stride);
    field = std::max(field, chain.bands[b].receptiveField);
  }
  if (width % unit != 0 || height % unit != 0)
    throw Error(fmt::format("a picture in tiles needs sides that are multiples of {}, not {}x{}", unit, width,
                            height));
  const int halo = roundUp(field / 2 + 1, unit);
  Axis bestX;
  Axis bestY;
  double least = 0;
  for (int ny = 1; ny <= kMostParts; ++ny) {
    for (int nx = 1; nx <= kMostParts; ++nx) {
      const Axis x = cut(width, nx, halo, unit);
      const Axis y = cut(height, ny, halo, unit);
      if (Evaluator::memoryFor(chain, x.window, y.window, precision) > budget) continue;
      const double work =
          static_cast<double>(x.window) * y.window * static_cast<double>(x.ends.size() * y.ends.size());
      if (least > 0 && work >= least) continue;
      least = work;
      bestX = x;
      bestY = y;
    }
  }
  if (!(least > 0)) {
    const int side = unit + 2 * halo;
    throw Error(fmt::format(
        "the network needs {} MB for the smallest tile, {} MB are allowed; allow more memory",
        Evaluator::memoryFor(chain, std::min(side, width), std::min(side, height), precision) >> 20,
        budget >> 20));
  }
  Tiling tiling{bestX.window, bestY.window, {}};
  int top = 0;
  for (const int bottom : bestY.ends) {
    int left = 0;
    for (const int right : bestX.ends) {
      tiling.tiles.push_back({windowStart(left, halo, bestX.window, width),
                              windowStart(top, halo, bestY.window, height),
                              {left, top, right, bottom}});
      left = right;
    }
    top = bottom;
  }
  return tiling;
}

}  // namespace jugendstil
