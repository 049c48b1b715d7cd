// SPDX-License-Identifier: Apache-2.0
#include "grade/inks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "base/number.h"
#include "base/parallel.h"
#include "image/quick_transfer.h"

namespace jugendstil {
namespace {

// Colours count as one in cells of this side (CIELAB). One is an ink where it and those around it have at
// least this part of a picture's pixels: fewer are an accident of light or of the file's compression.
constexpr float kCell = 2;
constexpr double kLeastShare = 1.0 / 4000;
// More pixels of a picture say nothing more.
constexpr std::size_t kMostPixels = 400000;
// Moves are smoothed by 1 4 6 4 1 both ways and completed so often; then nothing more is seen to change.
constexpr std::array<float, 5> kSmoothing{1, 4, 6, 4, 1};
constexpr int kRounds = 3;
constexpr int kReach = 2 * kRounds;
// Rows at once: of a large picture its moves would take more memory than all the rest.
constexpr int kStrip = 256;

// All colours of sRGB, in cells.
constexpr int kLights = 52;
constexpr int kChromas = 120;  // each of a and b, from -kChromas on
constexpr std::size_t kCells = std::size_t{kLights} * kChromas * kChromas;

struct Cell {
  int lightness;
  int a;
  int b;
};

Cell cellOf(const CieLab& c) {
  const auto at = [](float v, int most) {
    return std::clamp(static_cast<int>(std::floor(v / kCell)), 0, most - 1);
  };
  return {at(c.lightness, kLights), at(c.a + kChromas, kChromas), at(c.b + kChromas, kChromas)};
}

std::size_t indexOf(const Cell& c) {
  return cellAt(c.b, c.a, kChromas) + std::size_t{1} * c.lightness * kChromas * kChromas;
}

Cell cellAtIndex(std::size_t i) {
  constexpr std::size_t kLayer = std::size_t{kChromas} * kChromas;
  return {static_cast<int>(i / kLayer), static_cast<int>(i % kLayer / kChromas),
          static_cast<int>(i % kChromas)};
}

CieLab middleOf(const Cell& c) {
  const auto at = [](int i) { return kCell * (static_cast<float>(i) + 0.5F); };
  return {at(c.lightness), at(c.a) - kChromas, at(c.b) - kChromas};
}

// Calls f for a cell and those that touch it.
template <typename F>
void around(const Cell& c, const F& f) {
  for (int l = std::max(0, c.lightness - 1); l <= std::min(kLights - 1, c.lightness + 1); ++l) {
    for (int a = std::max(0, c.a - 1); a <= std::min(kChromas - 1, c.a + 1); ++a) {
      for (int b = std::max(0, c.b - 1); b <= std::min(kChromas - 1, c.b + 1); ++b) f(Cell{l, a, b});
    }
  }
}

CieLab labOfDisplay(const float* rgb) {
  return cieLabOf(LinearRgb{quickToLinear(rgb[0]), quickToLinear(rgb[1]), quickToLinear(rgb[2])});
}

CieLab sum(const CieLab& a, const CieLab& b) { return {a.lightness + b.lightness, a.a + b.a, a.b + b.b}; }
CieLab times(const CieLab& a, float by) { return {a.lightness * by, a.a * by, a.b * by}; }

// Colours of a strip, and where those go that move.
struct Strip {
  int width;
  int height;
  std::vector<CieLab> own;
  std::vector<CieLab> move;
  std::vector<std::uint8_t> stray;  // moves
};

// Of those that move, around a pixel that does.
CieLab smoothedAt(const Strip& strip, int x, int y) {
  CieLab mean;
  float weights = 0;
  for (int j = std::max(-2, -y); j <= std::min(2, strip.height - 1 - y); ++j) {
    for (int i = std::max(-2, -x); i <= std::min(2, strip.width - 1 - x); ++i) {
      const std::size_t at = cellAt(x + i, y + j, strip.width);
      if (strip.stray[at] == 0) continue;
      const float weight = kSmoothing[i + 2] * kSmoothing[j + 2];
      mean = sum(mean, times(strip.move[at], weight));
      weights += weight;
    }
  }
  return times(mean, 1 / weights);
}

// Each cell takes over the ink of a cell beside it where that is nearer, there and back (after
// Danielsson 1980, "Euclidean distance mapping").
void spread(std::vector<std::int32_t>& nearest) {
  const auto squared = [](const CieLab& middle, std::int32_t ink) {
    return ink < 0 ? std::numeric_limits<float>::max()
                   : squaredDistance(middle, middleOf(cellAtIndex(static_cast<std::size_t>(ink))));
  };
  const auto improve = [&](std::size_t at, bool forward) {
    if (nearest[at] == static_cast<std::int32_t>(at)) return;
    const Cell cell = cellAtIndex(at);
    const CieLab middle = middleOf(cell);
    float least = squared(middle, nearest[at]);
    around(cell, [&](const Cell& beside) {
      const std::size_t other = indexOf(beside);
      if (forward ? other >= at : other <= at) return;
      const std::int32_t ink = nearest[other];
      if (ink == nearest[at]) return;
      if (const float own = squared(middle, ink); own < least) {
        least = own;
        nearest[at] = ink;
      }
    });
  };
  for (std::size_t at = 0; at < kCells; ++at) improve(at, true);
  for (std::size_t at = kCells; at-- > 0;) improve(at, false);
}

}  // namespace

Inks::Inks(const std::vector<const Image*>& pictures) : nearest_(kCells, -1) {
  for (const Image* picture : pictures) add(*picture);
  count_ = std::count_if(nearest_.begin(), nearest_.end(), [](std::int32_t ink) { return ink >= 0; });
  if (count_ > 0) spread(nearest_);
}

void Inks::add(const Image& picture) {
  std::vector<std::uint32_t> counts(kCells, 0);
  const std::size_t step = picture.area() / kMostPixels + 1;
  std::size_t pixels = 0;
  for (std::size_t i = 0; i < picture.area(); i += step, ++pixels)
    ++counts[indexOf(cellOf(labOfDisplay(picture.pixel(i))))];
  const double least = kLeastShare * static_cast<double>(pixels);
  for (std::size_t i = 0; i < kCells; ++i) {
    if (counts[i] == 0) continue;
    double together = 0;
    around(cellAtIndex(i), [&](const Cell& c) { together += counts[indexOf(c)]; });
    if (together >= least) nearest_[i] = static_cast<std::int32_t>(i);
  }
}

CieLab Inks::inkFor(const CieLab& colour) const {
  return middleOf(cellAtIndex(static_cast<std::size_t>(nearest_[indexOf(cellOf(colour))])));
}

bool Inks::has(const CieLab& colour) const {
  return squaredDistance(colour, inkFor(colour)) <= kFarthest * kFarthest;
}

CieLab Inks::completed(const CieLab& own, const CieLab& first) const {
  const CieLab colour = sum(own, first);
  const CieLab ink = inkFor(colour);
  const CieLab from = sum(colour, times(ink, -1));
  const float squared = squaredDistance(colour, ink);
  if (squared <= kFarthest * kFarthest) return first;
  return sum(sum(ink, times(from, kFarthest / std::sqrt(squared))), times(own, -1));
}

void Inks::keepRows(const Image& picture, Image& out, int begin, int end) const {
  const int first = std::max(0, begin - kReach);
  Strip strip{picture.width, std::min(picture.height, end + kReach) - first, {}, {}, {}};
  const std::size_t pixels = cellCount(strip.width, strip.height);
  strip.own.resize(pixels);
  strip.move.resize(pixels);
  strip.stray.resize(pixels);
  parallelFor(strip.height, [&](int y) {
    for (int x = 0; x < strip.width; ++x) {
      const std::size_t i = cellAt(x, y, strip.width);
      strip.own[i] = labOfDisplay(picture.pixel(cellAt(x, first + y, strip.width)));
      strip.stray[i] = has(strip.own[i]) ? 0 : 1;
      if (strip.stray[i] != 0) strip.move[i] = completed(strip.own[i], {});
    }
  });
  std::vector<CieLab> moves(pixels);
  for (int round = 0; round < kRounds; ++round) {
    parallelFor(strip.height, [&](int y) {
      for (int x = 0; x < strip.width; ++x) {
        const std::size_t i = cellAt(x, y, strip.width);
        if (strip.stray[i] != 0) moves[i] = completed(strip.own[i], smoothedAt(strip, x, y));
      }
    });
    std::swap(strip.move, moves);
  }
  parallelFor(end - begin, [&](int row) {
    for (int x = 0; x < strip.width; ++x) {
      const std::size_t i = cellAt(x, begin - first + row, strip.width);
      if (strip.stray[i] == 0) continue;
      const LinearRgb rgb = linearOf(sum(strip.own[i], strip.move[i]));
      float* to = out.pixel(cellAt(x, begin + row, strip.width));
      to[0] = std::clamp(quickToDisplay(rgb.red), 0.0F, 1.0F);
      to[1] = std::clamp(quickToDisplay(rgb.green), 0.0F, 1.0F);
      to[2] = std::clamp(quickToDisplay(rgb.blue), 0.0F, 1.0F);
    }
  });
}

Image Inks::keptTo(const Image& picture) const {
  if (count() == 0) return picture;
  Image out = picture;
  for (int y = 0; y < picture.height; y += kStrip)
    keepRows(picture, out, y, std::min(y + kStrip, picture.height));
  return out;
}

}  // namespace jugendstil
