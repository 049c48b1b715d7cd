#include <algorithm>
#include <cmath>

#include "image/colour.h"
#include "noise.h"
#include "pictures.h"

namespace demo {

jugendstil::Image photographed(const jugendstil::Image& render, unsigned seed) {
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
      const float falloff = 1 - 0.62F * (dx * dx + dy * dy);
      for (int c = 0; c < 3; ++c) {
        float soft = 0;
        for (int j = -1; j <= 1; ++j) {
          for (int i = -1; i <= 1; ++i) {
            const float weight = (i == 0 ? 0.76F : 0.12F) * (j == 0 ? 0.76F : 0.12F);
            soft += weight * linear.at(std::clamp(x + i, 0, w - 1), std::clamp(y + j, 0, h - 1), c);
          }
        }
        // A shoulder instead of clipping, then photon and read-out noise.
        float v = soft * falloff;
        v = v < 0.7F ? v : 0.7F + 0.3F * (1 - std::exp(-(v - 0.7F) / 0.3F));
        v += gauss(x, y, c) * std::sqrt(0.00005F + 0.00035F * std::max(0.0F, v));
        out.at(x, y, c) = std::clamp(v, 0.0F, 1.0F);
      }
    }
  }
  return jugendstil::toDisplay(out);
}

}  // namespace demo
