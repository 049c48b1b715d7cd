// SPDX-License-Identifier: Apache-2.0
// Swatches for tests.
#pragma once

#include <cmath>

#include "image/image.h"
#include "support/support.h"
#include "weave/atlas.h"

namespace testing_support {

// Blobs of two colours, irregular; `shade` makes another cloth of it.
inline jugendstil::Image cloth(int width, int height, unsigned seed = 1, float shade = 1) {
  const jugendstil::Image noise = sample(width, height, seed);
  jugendstil::Image out(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const float wave = std::sin(0.37F * static_cast<float>(x) + 2.0F * noise.at(x, y, 0)) +
                         std::sin(0.29F * static_cast<float>(y + x / 3) + 2.0F * noise.at(x, y, 1));
      for (int c = 0; c < 3; ++c)
        out.at(x, y, c) = shade * (0.5F + 0.18F * wave + 0.1F * (noise.at(x, y, c) - 0.5F));
    }
  }
  return jugendstil::clipped(std::move(out));
}

inline jugendstil::Atlas atlasOf(const jugendstil::Image& swatch) {
  return jugendstil::atlasOf({{swatch, {}, {}}}, jugendstil::kGrownTone);
}

}  // namespace testing_support
