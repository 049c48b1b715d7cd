// SPDX-License-Identifier: Apache-2.0
#include "grade/inks.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <tuple>

#include "base/number.h"
#include "base/parallel.h"
#include "image/quick_transfer.h"

namespace jugendstil {
namespace {

// Cells in which colours count as one, and the least part of a picture's pixels that makes an ink of one.
// With those a picture's pixels lie within 6 of its own inks, but for some in ten thousand.
constexpr float kCell = 3;
constexpr double kLeastShare = 1.0 / 5000;
// More pixels of a picture say nothing more.
constexpr std::size_t kMostPixels = 400000;
// Moves are smoothed so far, in pixels, and made whole again so often. After three times nothing more is seen
// to change; further smoothing draws what is right along.
constexpr int kSmoothing = 2;
constexpr int kRounds = 3;
constexpr int kReach = kSmoothing * kRounds;
// Rows at once: of a large picture its moves would take more memory than all the rest.
constexpr int kStrip = 256;

CieLab labOfDisplay(const float* rgb) {
  return cieLabOf(LinearRgb{quickToLinear(rgb[0]), quickToLinear(rgb[1]), quickToLinear(rgb[2])});
}

CieLab sum(const CieLab& a, const CieLab& b) { return {a.lightness + b.lightness, a.a + b.a, a.b + b.b}; }
CieLab times(const CieLab& a, float by) { return {a.lightness * by, a.a * by, a.b * by}; }
bool changes(const CieLab& a) { return a.lightness != 0 || a.a != 0 || a.b != 0; }

using Field = std::vector<CieLab>;

// By 1 2 1 along rows or columns (with a stride between neighbours).
Field smoothed(const Field& from, int width, int height, bool across) {
  Field to(from.size());
  parallelFor(height, [&](int y) {
    for (int x = 0; x < width; ++x) {
      const auto at = [&](int step) {
        const int u = across ? std::clamp(x + step, 0, width - 1) : x;
        const int v = across ? y : std::clamp(y + step, 0, height - 1);
        return from[cellAt(u, v, width)];
      };
      to[cellAt(x, y, width)] = times(sum(sum(at(-1), at(1)), times(at(0), 2)), 0.25F);
    }
  });
  return to;
}

JUGENDSTIL_VECTORISED float leastSquared(const CieLab& colour, const float* lightness, const float* a,
                                         const float* b, std::size_t count) {
  float least = squaredDistance(colour, {lightness[0], a[0], b[0]});
#pragma omp simd reduction(min : least)
  for (std::size_t i = 0; i < count; ++i)
    least = std::min(least, squaredDistance(colour, {lightness[i], a[i], b[i]}));
  return least;
}

}  // namespace

Inks::Inks(const std::vector<const Image*>& pictures) {
  for (const Image* picture : pictures) {
    struct Cell {
      CieLab sum;
      std::size_t count = 0;
    };
    std::map<std::tuple<int, int, int>, Cell> cells;
    const std::size_t step = picture->area() / kMostPixels + 1;
    std::size_t pixels = 0;
    for (std::size_t i = 0; i < picture->area(); i += step, ++pixels) {
      const CieLab lab = labOfDisplay(picture->pixel(i));
      const auto cell = [](float v) { return static_cast<int>(std::floor(v / kCell)); };
      Cell& own = cells[{cell(lab.lightness), cell(lab.a), cell(lab.b)}];
      own.sum = sum(own.sum, lab);
      ++own.count;
    }
    for (const auto& [key, cell] : cells) {
      if (static_cast<double>(cell.count) < kLeastShare * static_cast<double>(pixels)) continue;
      const CieLab mean = times(cell.sum, 1.0F / static_cast<float>(cell.count));
      lightness_.push_back(mean.lightness);
      a_.push_back(mean.a);
      b_.push_back(mean.b);
    }
  }
}

Inks::Found Inks::nearest(const CieLab& colour, std::size_t guess) const {
  const float near = squaredDistance(colour, ink(guess));
  if (near <= kFarthest * kFarthest) return {guess, near};
  // By runs, of which the one with the nearest is looked through.
  constexpr std::size_t kRun = 64;
  float least = std::numeric_limits<float>::max();
  std::size_t begin = 0;
  for (std::size_t i = 0; i < count(); i += kRun) {
    const float own = leastSquared(colour, &lightness_[i], &a_[i], &b_[i], std::min(kRun, count() - i));
    if (own < least) {
      least = own;
      begin = i;
    }
  }
  Found best{begin, squaredDistance(colour, ink(begin))};
  for (std::size_t i = begin + 1; i < std::min(begin + kRun, count()); ++i) {
    const float squared = squaredDistance(colour, ink(i));
    if (squared < best.squared) best = {i, squared};
  }
  return best;
}

void Inks::settle(const Field& own, Field& move, int width) const {
  parallelFor(countOf(own) / width, [&](int y) {
    std::size_t guess = 0;
    for (int x = 0; x < width; ++x) {
      const std::size_t i = cellAt(x, y, width);
      const CieLab colour = sum(own[i], move[i]);
      const Found found = nearest(colour, guess);
      guess = found.ink;
      if (found.squared <= kFarthest * kFarthest) continue;
      const CieLab nearest = ink(found.ink);
      const float part = kFarthest / std::sqrt(found.squared);
      const CieLab there = sum(nearest, times(sum(colour, times(nearest, -1)), part));
      move[i] = sum(there, times(own[i], -1));
    }
  });
}

void Inks::keepRows(const Image& picture, Image& out, int begin, int end) const {
  const int first = std::max(0, begin - kReach);
  const int height = std::min(picture.height, end + kReach) - first;
  const int width = picture.width;
  Field own(cellCount(width, height));
  parallelFor(height, [&](int y) {
    for (int x = 0; x < width; ++x)
      own[cellAt(x, y, width)] = labOfDisplay(picture.pixel(cellAt(x, first + y, width)));
  });
  Field move(own.size());
  settle(own, move, width);
  for (int round = 0; round < kRounds; ++round) {
    for (int pass = 0; pass < kSmoothing; ++pass)
      move = smoothed(smoothed(move, width, height, true), width, height, false);
    settle(own, move, width);
  }
  parallelFor(end - begin, [&](int row) {
    for (int x = 0; x < width; ++x) {
      const std::size_t i = cellAt(x, begin - first + row, width);
      if (!changes(move[i])) continue;
      const LinearRgb rgb = linearOf(sum(own[i], move[i]));
      float* to = out.pixel(cellAt(x, begin + row, width));
      to[0] = std::clamp(quickToDisplay(rgb.red), 0.0F, 1.0F);
      to[1] = std::clamp(quickToDisplay(rgb.green), 0.0F, 1.0F);
      to[2] = std::clamp(quickToDisplay(rgb.blue), 0.0F, 1.0F);
    }
  });
}

Image Inks::keptTo(const Image& picture) const {
  if (lightness_.empty()) return picture;
  Image out = picture;
  for (int y = 0; y < picture.height; y += kStrip)
    keepRows(picture, out, y, std::min(y + kStrip, picture.height));
  return out;
}

}  // namespace jugendstil
