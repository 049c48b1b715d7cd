#include "motion/warp.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "image/error.h"
#include "image/parallel.h"

namespace jugendstil {
namespace {

constexpr int kTaps = 6;

// Lanczos' kernel of three lobes for a place t in [0, 1) after the third of six samples; the weights add up
// to 1.
std::array<float, kTaps> weights(float t) {
  std::array<float, kTaps> out{};
  if (t < 1e-4F) {
    out[2] = 1;
    return out;
  }
  constexpr float kPi = 3.14159265F;
  float sum = 0;
  for (int k = 0; k < kTaps; ++k) {
    const float x = kPi * (static_cast<float>(k - 2) - t);
    const float w = 3 * std::sin(x) * std::sin(x / 3) / (x * x);
    out[static_cast<std::size_t>(k)] = w;
    sum += w;
  }
  for (float& w : out) w /= sum;
  return out;
}

struct Taps {
  std::array<int, kTaps> at;
  std::array<float, kTaps> weight;
};

Taps tapsAt(float position, int size) {
  position = std::clamp(position, 0.0F, static_cast<float>(size - 1));
  const float floor = std::floor(position);
  Taps taps{{}, weights(position - floor)};
  for (int k = 0; k < kTaps; ++k) {
    taps.at[static_cast<std::size_t>(k)] = std::clamp(static_cast<int>(floor) + k - 2, 0, size - 1);
  }
  return taps;
}

}  // namespace

Image warped(const Image& other, const Flow& flow) {
  if (other.width != flow.width || other.height != flow.height)
    throw Error("a frame can only be carried along flow of its own size");
  Image out(other.width, other.height, other.channels);
  parallelFor(other.height, [&](int y) {
    for (int x = 0; x < other.width; ++x) {
      const std::size_t i = flow.index(x, y);
      const Taps across = tapsAt(static_cast<float>(x) + flow.u[i], other.width);
      const Taps down = tapsAt(static_cast<float>(y) + flow.v[i], other.height);
      float* to = &out.pixels[out.index(x, y, 0)];
      for (std::size_t j = 0; j < kTaps; ++j) {
        for (std::size_t k = 0; k < kTaps; ++k) {
          const float w = down.weight[j] * across.weight[k];
          const float* from = &other.pixels[other.index(across.at[k], down.at[j], 0)];
          for (int c = 0; c < other.channels; ++c) to[c] += w * from[c];
        }
      }
    }
  });
  return out;
}

}  // namespace jugendstil
