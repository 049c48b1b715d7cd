// SPDX-License-Identifier: Apache-2.0
#include "weave/picture.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/parallel.h"
#include "weave/shown.h"

namespace jugendstil {
namespace {

// How far a join's two sides go over into each other at most, and how fast they fade, in pixels.
constexpr int kSoft = 2;
constexpr float kFade = 1.3F;
constexpr int kRowsAtOnce = 64;

double squared(const Rgb& v) {
  return static_cast<double>(v[0]) * v[0] + static_cast<double>(v[1]) * v[1] +
         static_cast<double>(v[2]) * v[2];
}

// Steps across joins: how strong they are, and how strong they would be in the swatches.
struct Steps {
  double hard = 0;
  double soft = 0;
  double both = 0;  // products of the two
  double own = 0;

  void operator+=(const Steps& other) {
    hard += other.hard;
    soft += other.soft;
    both += other.both;
    own += other.own;
  }
  // The share of the soft picture with which the sum is the swatches' own, at most 1.
  float softness() const {
    if (hard <= own) return 0;
    // |(1 - t) h + t s|^2 = own, its lesser root.
    const double a = hard - 2 * both + soft;
    const double b = both - hard;
    const double c = hard - own;
    const double root = b * b - a * c;
    if (a <= 0 || root <= 0) return 1;
    return static_cast<float>(std::clamp((-b - std::sqrt(root)) / a, 0.0, 1.0));
  }
};

class Shower {
 public:
  Shower(const Woven& piece, const Atlas& atlas, const std::vector<Image>& swatches)
      : piece_(piece), shown_(atlas, swatches) {
    for (int y = -kSoft; y <= kSoft; ++y) {
      for (int x = -kSoft; x <= kSoft; ++x)
        fade_[cellAt(x + kSoft, y + kSoft, kSide)] =
            std::exp(-static_cast<float>(x * x + y * y) / (2 * kFade * kFade));
    }
  }

  Steps stepsFrom(int y) const {
    Steps sum;
    for (int x = 0; x < piece_.width; ++x) {
      if (piece_.column(x + 1) >= 0) sum += stepBetween(x, y, 1, 0);
      if (piece_.row(y + 1) >= 0) sum += stepBetween(x, y, 0, 1);
    }
    return sum;
  }

  void show(int y, float softness, Image& image) const {
    for (int x = 0; x < piece_.width; ++x) {
      const std::size_t pixel = cellAt(x, y, piece_.width);
      Rgb value = shown_.of(piece_.spots[pixel]);
      if (softness > 0 && !piece_.stays(pixel) && nearJoin(x, y)) {
        const Rgb soft = softAt(x, y);
        for (std::size_t c = 0; c < 3; ++c) value[c] += softness * (soft[c] - value[c]);
      }
      std::copy(value.begin(), value.end(), image.pixel(pixel));
    }
  }

 private:
  static constexpr int kSide = 2 * kSoft + 1;

  bool nearJoin(int x, int y) const {
    const Spot own = piece_.at(x, y);
    for (int dy = -kSoft; dy <= kSoft; ++dy) {
      for (int dx = -kSoft; dx <= kSoft; ++dx) {
        const Spot there = piece_.seen(x + dx, y + dy);
        if (there != kUnwoven && there != shown_.beside(own, dx, dy)) return true;
      }
    }
    return false;
  }

  Rgb softAt(int x, int y) const {
    Rgb sum{};
    float weights = 0;
    for (int dy = -kSoft; dy <= kSoft; ++dy) {
      for (int dx = -kSoft; dx <= kSoft; ++dx) {
        const Spot there = piece_.seen(x + dx, y + dy);
        if (there == kUnwoven || !shown_.isOpen(shown_.beside(there, -dx, -dy))) continue;
        const Rgb value = shown_.of(shown_.beside(there, -dx, -dy));
        const float weight = fade_[cellAt(dx + kSoft, dy + kSoft, kSide)];
        for (std::size_t c = 0; c < 3; ++c) sum[c] += weight * value[c];
        weights += weight;
      }
    }
    for (float& v : sum) v /= weights;
    return sum;
  }

  Steps stepBetween(int x, int y, int dx, int dy) const {
    const Spot a = piece_.at(x, y);
    const int column = piece_.column(x + dx);
    const int row = piece_.row(y + dy);
    const Spot b = piece_.at(column, row);
    const Spot beyond = shown_.beside(a, dx, dy);
    const Spot before = shown_.beside(b, -dx, -dy);
    if (beyond == b || !shown_.isOpen(beyond) || !shown_.isOpen(before)) return {};
    const Rgb hard = shown_.of(b) - shown_.of(a);
    const Rgb soft = softAt(column, row) - softAt(x, y);
    Steps steps{squared(hard), squared(soft), 0,
                (squared(shown_.of(beyond) - shown_.of(a)) + squared(shown_.of(b) - shown_.of(before))) / 2};
    for (std::size_t c = 0; c < 3; ++c) steps.both += static_cast<double>(hard[c]) * soft[c];
    return steps;
  }

  const Woven& piece_;
  Shown shown_;
  std::array<float, std::size_t{kSide} * kSide> fade_{};
};

}  // namespace

Image pictureOf(const Woven& piece, const Atlas& atlas, const std::vector<Image>& swatches,
                const std::function<void(double)>& progress) {
  const Shower shower(piece, atlas, swatches);
  // Twice over all rows, in bands, between which progress is told.
  const auto bands = [&](double from, const auto& body) {
    for (int top = 0; top < piece.height; top += kRowsAtOnce) {
      const int count = std::min(kRowsAtOnce, piece.height - top);
      parallelFor(count, [&](int y) { body(top + y); });
      progress(from + 0.5 * (top + count) / piece.height);
    }
  };
  std::vector<Steps> rows(piece.height);
  bands(0, [&](int y) { rows[y] = shower.stepsFrom(y); });
  Steps all;
  for (const Steps& row : rows) all += row;
  const float softness = all.softness();
  Image image(piece.width, piece.height);
  bands(0.5, [&](int y) { shower.show(y, softness, image); });
  return image;
}

}  // namespace jugendstil
