// SPDX-License-Identifier: Apache-2.0
#include "amplify/change.h"

#include <algorithm>
#include <cmath>

namespace jugendstil {

Image withChange(const Image& photo, const Image& change, double part) {
  Image out = photo;
  for (std::size_t i = 0; i < out.pixels.size(); ++i) {
    const float value = std::clamp(photo.pixels[i], 0.0F, 1.0F);
    const float by = static_cast<float>(part) * change.pixels[i];
    const float room = by > 0 ? 1 - value : value;
    if (room <= 0) continue;
    const float used = by / room;
    out.pixels[i] = value + by / std::sqrt(std::sqrt(1 + used * used * used * used));
  }
  return out;
}

void addTo(Image& picture, const Image& more, double part) {
  for (std::size_t i = 0; i < picture.pixels.size(); ++i)
    picture.pixels[i] += static_cast<float>(part) * more.pixels[i];
}

}  // namespace jugendstil
