// SPDX-License-Identifier: Apache-2.0
#include "dive/move.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

#include "base/parallel.h"

namespace jugendstil {
namespace {

constexpr int kLobes = 8;
constexpr int kTaps = 2 * kLobes;
// Of the Kaiser window. Half-way between pixels waves of 3 pixels keep their height to 0.1 %, of 2.6 to 0.4
// %, and none grows by more than 0.1 %: at 4.5 some grow by 0.8 %, which a hundred moves make a double.
constexpr double kBeta = 6;
// Weights are looked up at so many places between two pixels and mixed from the two nearest: the error is
// below half of a sixteen-bit step.
constexpr int kPlaces = 512;

struct Point {
  double x;
  double y;
};

// Where a pixel's middle comes from.
class Origin {
 public:
  Origin(const Move& move, Size size)
      : centre_{move.centreX * size.width, move.centreY * size.height},
        shift_{move.shiftX * size.width, move.shiftY * size.height},
        cos_(std::cos(move.turn * std::numbers::pi / 180) / move.zoom),
        sin_(std::sin(move.turn * std::numbers::pi / 180) / move.zoom) {}

  // In pixels, of which the first has its middle at 0.
  Point of(int x, int y) const {
    const double dx = x + 0.5 - centre_.x - shift_.x;
    const double dy = y + 0.5 - centre_.y - shift_.y;
    return {centre_.x + cos_ * dx + sin_ * dy - 0.5, centre_.y - sin_ * dx + cos_ * dy - 0.5};
  }

 private:
  Point centre_;
  Point shift_;
  double cos_;
  double sin_;
};

double bessel(double x) {
  double sum = 1;
  double term = 1;
  for (int k = 1; k < 32; ++k) {
    term *= (x / (2 * k)) * (x / (2 * k));
    sum += term;
  }
  return sum;
}

// The taps' weights for each place between two pixels; their sum is 1. Where the picture shrinks, only what
// the new pixels can hold goes through.
class Taps {
 public:
  using Weights = std::array<float, kTaps>;

  explicit Taps(double zoom) : table_(kPlaces + 1) {
    const double band = std::min(1.0, zoom);
    for (int p = 0; p <= kPlaces; ++p) {
      std::array<double, kTaps> weights{};
      double sum = 0;
      for (int t = 0; t < kTaps; ++t) {
        const double x = t - (kLobes - 1) - 1.0 * p / kPlaces;
        const double inside = 1 - (x / kLobes) * (x / kLobes);
        const double angle = std::numbers::pi * x * band;
        const double sinc = x == 0 ? 1 : std::sin(angle) / angle;
        weights[t] = inside <= 0 ? 0 : sinc * bessel(kBeta * std::sqrt(inside)) / bessel(kBeta);
        sum += weights[t];
      }
      for (int t = 0; t < kTaps; ++t) table_[p][t] = static_cast<float>(weights[t] / sum);
    }
  }

  void at(double part, Weights& out) const {
    const double place = part * kPlaces;
    const int p = std::min(static_cast<int>(place), kPlaces - 1);
    const auto by = static_cast<float>(place - p);
    for (int t = 0; t < kTaps; ++t) out[t] = table_[p][t] + by * (table_[p + 1][t] - table_[p][t]);
  }

 private:
  std::vector<Weights> table_;
};

// One pixel: `planes` are the picture's channels one after the other, padded so that all taps lie inside.
JUGENDSTIL_VECTORISED
float sampled(const float* corner, int stride, const float* across, const float* down) {
  std::array<float, kTaps> sums{};
  for (int j = 0; j < kTaps; ++j) {
    const float* row = corner + static_cast<std::ptrdiff_t>(j) * stride;
    for (int i = 0; i < kTaps; ++i) sums[i] += down[j] * row[i];
  }
  float sum = 0;
  for (int i = 0; i < kTaps; ++i) sum += across[i] * sums[i];
  return sum;
}

// How far outside the picture a move looks.
int marginOf(const Origin& origin, Size size) {
  double far = 0;
  for (const auto& [x, y] : {std::array{0, 0}, std::array{size.width - 1, 0}, std::array{0, size.height - 1},
                             std::array{size.width - 1, size.height - 1}}) {
    const Point p = origin.of(x, y);
    far = std::max({far, -p.x, -p.y, p.x - (size.width - 1), p.y - (size.height - 1)});
  }
  return static_cast<int>(std::ceil(far)) + kLobes + 1;
}

}  // namespace

Image moved(const Image& picture, const Move& move) {
  if (move.still()) return picture;
  const Size size{picture.width, picture.height};
  const Origin origin(move, size);
  const int margin = marginOf(origin, size);
  const Image padded = mirrorPad(picture, margin, margin, margin, margin);
  const int channels = picture.channels;
  std::vector<std::vector<float>> planes(channels, std::vector<float>(padded.area()));
  for (std::size_t i = 0; i < padded.area(); ++i) {
    for (int c = 0; c < channels; ++c) planes[c][i] = padded.pixel(i)[c];
  }
  const Taps taps(move.zoom);
  Image out(size.width, size.height, channels);
  parallelFor(size.height, [&](int y) {
    Taps::Weights across;
    Taps::Weights down;
    for (int x = 0; x < size.width; ++x) {
      const Point p = origin.of(x, y);
      const double left = std::floor(p.x);
      const double top = std::floor(p.y);
      taps.at(p.x - left, across);
      taps.at(p.y - top, down);
      const std::size_t corner = cellAt(static_cast<int>(left) + margin - (kLobes - 1),
                                        static_cast<int>(top) + margin - (kLobes - 1), padded.width);
      for (int c = 0; c < channels; ++c)
        out.at(x, y, c) = sampled(planes[c].data() + corner, padded.width, across.data(), down.data());
    }
  });
  return out;
}

Motion motionOf(const Move& move, Size size) {
  const Origin origin(move, size);
  Motion motion;
  motion.back = Flow(size.width, size.height);
  motion.seen = Image(size.width, size.height, 1);
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x) {
      const Point p = origin.of(x, y);
      const std::size_t i = motion.back.index(x, y);
      motion.back.u[i] = static_cast<float>(p.x - x);
      motion.back.v[i] = static_cast<float>(p.y - y);
      const bool inside = p.x >= 0 && p.y >= 0 && p.x <= size.width - 1 && p.y <= size.height - 1;
      motion.seen.pixels[i] = inside ? 1.0F : 0.0F;
    }
  }
  motion.trust = motion.seen;
  return motion;
}

}  // namespace jugendstil
