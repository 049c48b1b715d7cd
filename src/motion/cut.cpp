// SPDX-License-Identifier: Apache-2.0
#include "motion/cut.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace jugendstil {
namespace {

constexpr int kLight = 12;
constexpr int kChroma = 6;
constexpr double kJump = 0.45;
constexpr double kChange = 0.20;
constexpr double kLost = 0.25;
constexpr int kMostSamples = 160;  // a side

using Histogram = std::array<double, std::size_t{kLight} * kChroma * kChroma>;

// A sample counts for the two nearest bins of each axis.
struct Bins {
  int low;
  double high;  // weight of low + 1
};

Bins binsOf(float value, int count) {
  const float at = std::clamp(value, 0.0F, 1.0F) * static_cast<float>(count - 1);
  const int low = std::min(static_cast<int>(at), count - 2);
  return {low, at - static_cast<float>(low)};
}

Histogram histogramOf(const Image& frame) {
  Histogram out{};
  const int stepX = std::max(1, frame.width / kMostSamples);
  const int stepY = std::max(1, frame.height / kMostSamples);
  double count = 0;
  for (int y = stepY / 2; y < frame.height; y += stepY) {
    for (int x = stepX / 2; x < frame.width; x += stepX) {
      const float* p = &frame.pixels[frame.index(x, y, 0)];
      const float light = (p[0] + p[1] + p[2]) / 3;
      const Bins l = binsOf(light, kLight);
      const Bins a = binsOf(0.5F + (p[0] - p[1]), kChroma);
      const Bins b = binsOf(0.5F + (0.5F * (p[0] + p[1]) - p[2]), kChroma);
      ++count;
      for (int k = 0; k < 8; ++k) {
        const double weight =
            (k & 1 ? l.high : 1 - l.high) * (k & 2 ? a.high : 1 - a.high) * (k & 4 ? b.high : 1 - b.high);
        const int bin = ((l.low + (k & 1)) * kChroma + a.low + (k >> 1 & 1)) * kChroma + b.low + (k >> 2 & 1);
        out[bin] += weight;
      }
    }
  }
  for (double& v : out) v /= std::max(count, 1.0);
  return out;
}

}  // namespace

double histogramDistance(const Image& first, const Image& second) {
  const Histogram a = histogramOf(first);
  const Histogram b = histogramOf(second);
  double sum = 0;
  for (std::size_t i = 0; i < a.size(); ++i) sum += std::fabs(a[i] - b[i]);
  return sum / 2;
}

bool isCut(double distance, double trusted) {
  return distance > kJump || (distance > kChange && trusted < kLost);
}

}  // namespace jugendstil
