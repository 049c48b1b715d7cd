// SPDX-License-Identifier: Apache-2.0
#include "motion/warp.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "base/error.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

constexpr int kTaps = 6;

using Weights = std::array<float, kTaps>;

// Lanczos' kernel of three lobes for a place t in [0, 1] after the third of six samples; the weights add up
// to 1.
Weights lanczos(double t) {
  Weights out{};
  if (t <= 0 || t >= 1) {
    out[t <= 0 ? 2 : 3] = 1;
    return out;
  }
  std::array<double, kTaps> weight{};
  double sum = 0;
  for (std::size_t k = 0; k < kTaps; ++k) {
    const double x = std::numbers::pi * (static_cast<double>(k) - 2 - t);
    weight[k] = 3 * std::sin(x) * std::sin(x / 3) / (x * x);
    sum += weight[k];
  }
  for (std::size_t k = 0; k < kTaps; ++k) out[k] = static_cast<float>(weight[k] / sum);
  return out;
}

// The kernel at so many places, between which straight lines are within 1e-5 of it.
class Kernel {
 public:
  Kernel() {
    for (std::size_t i = 0; i <= kPlaces; ++i) at_[i] = lanczos(static_cast<double>(i) / kPlaces);
  }

  Weights at(float t) const {
    const float place = t * static_cast<float>(kPlaces);
    const auto i = std::min(static_cast<std::size_t>(place), kPlaces - 1);
    const float part = place - static_cast<float>(i);
    Weights out{};
    for (std::size_t k = 0; k < kTaps; ++k) out[k] = at_[i][k] + part * (at_[i + 1][k] - at_[i][k]);
    return out;
  }

 private:
  static constexpr std::size_t kPlaces = 512;
  std::array<Weights, kPlaces + 1> at_{};
};

struct Taps {
  std::array<int, kTaps> at;
  Weights weight;
};

Taps tapsAt(const Kernel& kernel, float position, int size) {
  position = std::clamp(position, 0.0F, static_cast<float>(size - 1));
  const float floor = std::floor(position);
  Taps taps{{}, kernel.at(position - floor)};
  for (int k = 0; k < kTaps; ++k) {
    taps.at[k] = std::clamp(static_cast<int>(floor) + k - 2, 0, size - 1);
  }
  return taps;
}

// Four channels at once where there are four: that is one vector.
void gather(const Image& from, const Taps& across, const Taps& down, float* to) {
  for (std::size_t j = 0; j < kTaps; ++j) {
    for (std::size_t k = 0; k < kTaps; ++k) {
      const float w = down.weight[j] * across.weight[k];
      const float* pixel = &from.pixels[from.index(across.at[k], down.at[j], 0)];
      if (from.channels == 4) {
        for (int c = 0; c < 4; ++c) to[c] += w * pixel[c];
      } else {
        for (int c = 0; c < from.channels; ++c) to[c] += w * pixel[c];
      }
    }
  }
}

}  // namespace

Image warped(const Image& other, const Flow& flow) {
  if (other.width != flow.width || other.height != flow.height)
    throw Error("a frame can only be carried along flow of its own size");
  Image out(other.width, other.height, other.channels);
  const Kernel kernel;
  parallelFor(other.height, [&](int y) {
    for (int x = 0; x < other.width; ++x) {
      const std::size_t i = flow.index(x, y);
      const Taps across = tapsAt(kernel, static_cast<float>(x) + flow.u[i], other.width);
      const Taps down = tapsAt(kernel, static_cast<float>(y) + flow.v[i], other.height);
      gather(other, across, down, &out.pixels[out.index(x, y, 0)]);
    }
  });
  return out;
}

}  // namespace jugendstil
