// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "image/colour.h"
#include "noise.h"
#include "pictures.h"

namespace demo {

namespace {

// How the print was made. Balance is of linear light; then on display values: faded lifts the blacks and
// dulls the lights, crisp is an S, vivid spreads the colours.
struct Print {
  float balance[3] = {1, 1, 1};
  float lift = 0;
  float range = 1;
  float contrast = 0;
  float vividness = 0;
  float falloff = 0.62F;  // of light, to the corners
};

Print printOf(const std::string& name) {
  if (name == "faded") return {{1.12F, 0.94F, 0.70F}, 0.10F, 0.78F, -0.6F, 0};
  if (name == "crisp") return {{0.52F, 0.64F, 0.84F}, 0, 1, 0.2F, 0};
  if (name == "vivid") return {{2.1F, 1.92F, 1.55F}, 0, 1, -0.35F, 0.30F};
  if (name == "flat") return {{1, 1, 1}, 0, 1, 0, 0, 0};
  return {};
}

void print(jugendstil::Image& display, const Print& how) {
  for (std::size_t i = 0; i < display.pixels.size(); i += 3) {
    float* p = &display.pixels[i];
    const float grey = 0.3F * p[0] + 0.59F * p[1] + 0.11F * p[2];
    for (int c = 0; c < 3; ++c) {
      float v = std::clamp(grey + (p[c] - grey) * (1 + how.vividness), 0.0F, 1.0F);
      v += how.contrast * v * (1 - v) * (2 * v - 1);
      p[c] = how.lift + how.range * v;
    }
  }
}

}  // namespace

jugendstil::Image photographed(const jugendstil::Image& render, unsigned seed, const std::string& name) {
  const Print how = printOf(name);
  const jugendstil::Image linear = jugendstil::toLinear(jugendstil::rgbOf(render));
  jugendstil::Image out = linear;
  const int w = out.width;
  const int h = out.height;
  const auto gauss = [&](int x, int y, int c) {
    const auto id = static_cast<std::uint32_t>(y * w + x) * 3U + static_cast<std::uint32_t>(c);
    float sum = 0;
    for (std::uint32_t k = 0; k < 4; ++k) sum += chance(id, k, seed) - 0.5F;
    return sum * 1.73F;
  };
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      const float dx = (static_cast<float>(x) - static_cast<float>(w) / 2) / static_cast<float>(w);
      const float dy = (static_cast<float>(y) - static_cast<float>(h) / 2) / static_cast<float>(w);
      const float falloff = 1 - how.falloff * (dx * dx + dy * dy);
      for (int c = 0; c < 3; ++c) {
        float soft = 0;
        for (int j = -1; j <= 1; ++j) {
          for (int i = -1; i <= 1; ++i) {
            const float weight = (i == 0 ? 0.76F : 0.12F) * (j == 0 ? 0.76F : 0.12F);
            soft += weight * linear.at(std::clamp(x + i, 0, w - 1), std::clamp(y + j, 0, h - 1), c);
          }
        }
        // A shoulder instead of clipping, then photon and read-out noise.
        float v = soft * falloff * how.balance[c];
        v = v < 0.7F ? v : 0.7F + 0.3F * (1 - std::exp(-(v - 0.7F) / 0.3F));
        v += gauss(x, y, c) * std::sqrt(0.00005F + 0.00035F * std::max(0.0F, v));
        out.at(x, y, c) = std::clamp(v, 0.0F, 1.0F);
      }
    }
  }
  jugendstil::Image display = jugendstil::toDisplay(out);
  print(display, how);
  return display;
}

}  // namespace demo
