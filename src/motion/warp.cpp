#include "motion/warp.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "image/error.h"
#include "image/parallel.h"

namespace jugendstil {
namespace {

// Catmull-Rom weights for a place t in [0, 1) after the second of four samples.
std::array<float, 4> weights(float t) {
  const float t2 = t * t;
  const float t3 = t2 * t;
  return {0.5F * (-t3 + 2 * t2 - t), 0.5F * (3 * t3 - 5 * t2 + 2), 0.5F * (-3 * t3 + 4 * t2 + t),
          0.5F * (t3 - t2)};
}

struct Taps {
  std::array<int, 4> at;
  std::array<float, 4> weight;
};

Taps tapsAt(float position, int size) {
  position = std::clamp(position, 0.0F, static_cast<float>(size - 1));
  const float floor = std::floor(position);
  Taps taps{{}, weights(position - floor)};
  for (int k = 0; k < 4; ++k) {
    taps.at[static_cast<std::size_t>(k)] = std::clamp(static_cast<int>(floor) + k - 1, 0, size - 1);
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
      for (std::size_t j = 0; j < 4; ++j) {
        for (std::size_t k = 0; k < 4; ++k) {
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
