// SPDX-License-Identifier: Apache-2.0
#include "network/tiling.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <optional>

#include "base/error.h"

namespace jugendstil {
namespace {

constexpr int kMostParts = 64;

int roundUp(int value, int unit) { return (value + unit - 1) / unit * unit; }

// Windows begin at multiples of this. Minimal filtering goes by blocks of 4x4 positions: where those of a
// tile are the whole picture's, so are the roundings, and no ReLU falls on the other side of zero.
int alignmentOf(const Section& section) {
  constexpr int kBlock = 4;
  return kBlock * section.coarsestStride();
}

// What the network is run on.
struct InputShape {
  int width;
  int height;
  Precision precision;
};

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
  // The last one ends where the picture does and begins at a multiple, too.
  const int room = std::max(0, length - core - sides * halo);
  axis.window = length - room / unit * unit;
  return axis;
}

int windowStart(int begin, int halo, int window, int length) {
  return std::clamp(begin - halo, 0, length - window);
}

Tiling tilesOf(const Axis& x, const Axis& y, int halo, const InputShape& picture) {
  Tiling tiling{x.window, y.window, {}};
  int top = 0;
  for (const int bottom : y.ends) {
    int left = 0;
    for (const int right : x.ends) {
      tiling.tiles.push_back({windowStart(left, halo, x.window, picture.width),
                              windowStart(top, halo, y.window, picture.height),
                              {left, top, right, bottom}});
      left = right;
    }
    top = bottom;
  }
  return tiling;
}

double windows(const Tiling& tiling) {
  return 1.0 * tiling.width * tiling.height * static_cast<double>(tiling.tiles.size());
}

// The tiles of one section with the fewest pixels in all windows together; nothing where none has room.
std::optional<Tiling> tilesFor(const Section& section, const InputShape& picture, std::size_t room) {
  const int unit = alignmentOf(section);
  const int halo = roundUp(section.reach, unit);
  std::optional<Tiling> best;
  for (int ny = 1; ny <= kMostParts; ++ny) {
    for (int nx = 1; nx <= kMostParts; ++nx) {
      const Axis x = cut(picture.width, nx, halo, unit);
      const Axis y = cut(picture.height, ny, halo, unit);
      if (section.memory(x.window, y.window, picture.precision) > room) continue;
      Tiling tiling = tilesOf(x, y, halo, picture);
      if (!best || windows(tiling) < windows(*best)) best = std::move(tiling);
      break;  // more parts only have more margin
    }
  }
  return best;
}

// What is kept beside the tiles of each section, at its fullest, on the way back: every section's input so
// far, the gradient that has arrived and the one that is made.
std::vector<std::size_t> keptBeside(const std::vector<Section>& sections, const InputShape& picture) {
  std::vector<std::size_t> kept;
  std::size_t inputs = 0;
  std::size_t own = 0;
  for (const Section& section : sections) {
    const std::size_t next = section.pooledMemory(picture.width, picture.height, picture.precision);
    kept.push_back(inputs + own + next);
    inputs += next;
    own = next;
  }
  return kept;
}

// Every section's tiles go forward twice, first for the statistics, and back once. Where the last section is
// one tile, what it computed first is still there.
double workOf(const TilePlan& plan) {
  double sum = 0;
  for (std::size_t i = 0; i < plan.sections.size(); ++i) {
    const bool once = i + 1 == plan.sections.size() && plan.tilings[i].tiles.size() == 1;
    sum += plan.sections[i].work() * windows(plan.tilings[i]) * (once ? 2 : 3);
  }
  return sum;
}

std::optional<TilePlan> planWith(std::vector<Section> sections, const InputShape& picture,
                                 std::size_t budget) {
  TilePlan plan{std::move(sections), {}};
  const std::vector<std::size_t> kept = keptBeside(plan.sections, picture);
  for (std::size_t i = 0; i < plan.sections.size(); ++i) {
    if (kept[i] >= budget) return std::nullopt;
    std::optional<Tiling> tiling = tilesFor(plan.sections[i], picture, budget - kept[i]);
    if (!tiling) return std::nullopt;
    plan.tilings.push_back(std::move(*tiling));
  }
  return plan;
}

void refuseOddSides(const Section& whole, const InputShape& picture) {
  const int unit = whole.coarsestStride();
  if (picture.width % unit != 0 || picture.height % unit != 0)
    throw Error(fmt::format("a picture in tiles needs sides that are multiples of {}, not {}x{}", unit,
                            picture.width, picture.height));
}

[[noreturn]] void refuseBudget(const Section& whole, const InputShape& picture, std::size_t budget) {
  const int unit = alignmentOf(whole);
  const int halo = roundUp(whole.reach, unit);
  const std::size_t least =
      whole.memory(cut(picture.width, kMostParts, halo, unit).window,
                   cut(picture.height, kMostParts, halo, unit).window, picture.precision);
  throw Error(
      fmt::format("the network needs {} MB for the smallest tile, {} MB are allowed; allow more memory",
                  (least >> 20) + 1, budget >> 20));
}

}  // namespace

TilePlan planTiles(const Chain& chain, int width, int height, Precision precision,
                   const std::vector<std::size_t>& bands, std::size_t budget) {
  const InputShape picture{width, height, precision};
  const Section whole = sectionsOf(chain, bands, {}).front();
  refuseOddSides(whole, picture);
  const std::vector<std::size_t> pools = cutsOf(whole.chain);
  std::optional<TilePlan> best;
  for (unsigned chosen = 0; chosen < 1U << pools.size(); ++chosen) {
    std::vector<std::size_t> cuts;
    for (std::size_t i = 0; i < pools.size(); ++i) {
      if ((chosen >> i & 1U) != 0) cuts.push_back(pools[i]);
    }
    std::optional<TilePlan> plan = planWith(sectionsOf(chain, bands, cuts), picture, budget);
    if (plan && (!best || workOf(*plan) < workOf(*best))) best = std::move(plan);
  }
  if (!best) refuseBudget(whole, picture, budget);
  return *best;
}

}  // namespace jugendstil
