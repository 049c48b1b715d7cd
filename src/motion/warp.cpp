// SPDX-License-Identifier: Apache-2.0
#include "motion/warp.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

constexpr int kTaps = 6;

// With room for a whole vector.
using Weights = std::array<float, 8>;

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

  [[gnu::always_inline]] Weights at(float t) const {
    const float place = t * static_cast<float>(kPlaces);
    const auto i = std::min(static_cast<std::size_t>(place), kPlaces - 1);
    const float part = place - static_cast<float>(i);
    Weights out{};
#pragma omp simd
    for (std::size_t k = 0; k < out.size(); ++k) out[k] = at_[i][k] + part * (at_[i + 1][k] - at_[i][k]);
    return out;
  }

 private:
  static constexpr std::size_t kPlaces = 512;
  std::array<Weights, kPlaces + 1> at_{};
};

// The six samples around a place along one axis: where they begin, and what each counts.
struct Taps {
  int first;
  Weights weight;
};

// Rows are read up to a whole number of vectors: eight pixels at most.
constexpr int kMostPixelsRead = 8;
constexpr std::size_t readPerRow(std::size_t channels) { return (kTaps * channels + 7) / 8 * 8; }

// These are inlined, for only so they are compiled for the vector units that warpRow() is.
[[gnu::always_inline]] inline Taps tapsAt(const Kernel& kernel, float position, int size) {
  position = std::clamp(position, 0.0F, static_cast<float>(size - 1));
  const int whole = static_cast<int>(position);
  return {whole - 2, kernel.at(position - static_cast<float>(whole))};
}

// One value of each channel out of six rows of six pixels: down first, which takes all columns at once.
template <std::size_t channels>
[[gnu::always_inline]] inline void mixed(const float* pixels, std::size_t rowStep, const Taps& across,
                                         const Taps& down, float* to) {
  constexpr std::size_t kRead = readPerRow(channels);
  std::array<float, kRead> columns{};
#pragma GCC unroll 6
  for (std::size_t j = 0; j < kTaps; ++j) {
    const float* row = pixels + j * rowStep;
#pragma omp simd
    for (std::size_t n = 0; n < kRead; ++n) columns[n] += down.weight[j] * row[n];
  }
#pragma GCC unroll 4
  for (std::size_t c = 0; c < channels; ++c) {
    float sum = 0;
#pragma GCC unroll 6
    for (std::size_t k = 0; k < kTaps; ++k) sum += across.weight[k] * columns[k * channels + c];
    to[c] = sum;
  }
}

// The same where the samples leave the picture, whose edge is repeated, or have another number of channels.
void mixedAtEdge(const Image& from, const Taps& across, const Taps& down, float* to) {
  std::array<float, kTaps * kTaps + 2> samples{};
  for (int c = 0; c < from.channels; ++c) {
    for (int j = 0; j < kTaps; ++j) {
      const int y = std::clamp(down.first + j, 0, from.height - 1);
      for (int k = 0; k < kTaps; ++k)
        samples[cellAt(k, j, kTaps)] = from.at(std::clamp(across.first + k, 0, from.width - 1), y, c);
    }
    mixed<1>(samples.data(), kTaps, across, down, &to[c]);
  }
}

JUGENDSTIL_VECTORISED
void warpRow(const Image& from, const Flow& flow, const Kernel& kernel, int y, float* to) {
  const std::size_t rowStep = cellCount(from.width, from.channels);
  for (int x = 0; x < from.width; ++x, to += from.channels) {
    const std::size_t i = flow.index(x, y);
    const Taps across = tapsAt(kernel, static_cast<float>(x) + flow.u[i], from.width);
    const Taps down = tapsAt(kernel, static_cast<float>(y) + flow.v[i], from.height);
    const bool inside = across.first >= 0 && across.first + kMostPixelsRead <= from.width &&
                        down.first >= 0 && down.first + kTaps <= from.height;
    const float* pixels = inside ? &from.pixels[from.index(across.first, down.first, 0)] : nullptr;
    if (inside && from.channels == 3)
      mixed<3>(pixels, rowStep, across, down, to);
    else if (inside && from.channels == 4)
      mixed<4>(pixels, rowStep, across, down, to);
    else if (inside && from.channels == 1)
      mixed<1>(pixels, rowStep, across, down, to);
    else
      mixedAtEdge(from, across, down, to);
  }
}

}  // namespace

Image warped(const Image& other, const Flow& flow) {
  if (other.width != flow.width || other.height != flow.height)
    throw Error("a frame can only be carried along flow of its own size");
  Image out(other.width, other.height, other.channels);
  const Kernel kernel;
  parallelFor(other.height, [&](int y) { warpRow(other, flow, kernel, y, out.row(y)); });
  return out;
}

}  // namespace jugendstil
