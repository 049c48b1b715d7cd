// SPDX-License-Identifier: Apache-2.0
#include "weave/layout.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "base/error.h"
#include "image/box_mean.h"
#include "image/luma.h"

namespace jugendstil {
namespace {

// Colours closer than this in each channel are one: a hand-drawn map, or one saved as JPEG, is never exact.
constexpr int kOneColour = 24;  // of 255
constexpr int kToneParts = 16;
// What is dark or light enough for black or white. With less of the swatch, its few darkest places are all
// over.
constexpr float kEnough = 1.0F / 3;

using Colour = std::array<int, 3>;  // red, green and blue of 255

Colour colourOf(const float* p) {
  const auto byte = [](float v) { return rounded(255.0 * std::clamp(v, 0.0F, 1.0F)); };
  return {byte(p[0]), byte(p[1]), byte(p[2])};
}

bool alike(const Colour& a, const Colour& b) {
  for (std::size_t c = 0; c < a.size(); ++c) {
    if (std::abs(a[c] - b[c]) > kOneColour) return false;
  }
  return true;
}

std::vector<float> tonesOf(const Image& picture) {
  std::vector<float> tones(picture.area());
  for (std::size_t i = 0; i < tones.size(); ++i) tones[i] = lumaOf(picture.pixel(i));
  return tones;
}

Image greyOf(const std::vector<float>& tones, int width, int height) {
  Image grey(width, height);
  for (std::size_t i = 0; i < tones.size(); ++i) std::fill_n(grey.pixel(i), 3, tones[i]);
  return grey;
}

}  // namespace

void requireColoursOf(const Image& layout, const Image& map) {
  std::set<Colour> colours;
  for (std::size_t i = 0; i < map.area(); ++i) colours.insert(colourOf(map.pixel(i)));
  std::set<Colour> good;
  std::set<Colour> bad;
  const auto inMap = [&](const Colour& colour) {
    if (good.count(colour) != 0) return true;
    if (bad.count(colour) != 0) return false;
    const bool found =
        std::any_of(colours.begin(), colours.end(), [&](const Colour& c) { return alike(c, colour); });
    (found ? good : bad).insert(colour);
    return found;
  };
  for (int y = 1; y + 1 < layout.height; ++y) {
    for (int x = 1; x + 1 < layout.width; ++x) {
      const auto at = [&](int dx, int dy) {
        return colourOf(layout.pixel(cellAt(x + dx, y + dy, layout.width)));
      };
      const Colour own = at(0, 0);
      if (inMap(own)) continue;
      if (at(1, 0) != own || at(-1, 0) != own || at(0, 1) != own || at(0, -1) != own) continue;
      throw UsageError(
          fmt::format("the layout has the colour #{:02x}{:02x}{:02x} at {},{}, which the swatch's map has "
                      "nowhere: draw it there "
                      "too, or in another colour here",
                      own[0], own[1], own[2], x, y));
    }
  }
}

Image toneMap(const Image& swatch) {
  const int radius = std::max(1, std::min(swatch.width, swatch.height) / kToneParts / 2);
  std::vector<float> tones = boxMeans(tonesOf(swatch), swatch.width, swatch.height, radius);
  std::vector<float> sorted = tones;
  std::sort(sorted.begin(), sorted.end());
  for (float& tone : tones) {
    const auto rank = std::lower_bound(sorted.begin(), sorted.end(), tone) - sorted.begin();
    const float share = static_cast<float>(rank) / static_cast<float>(sorted.size() - 1);
    tone = std::clamp((share - kEnough) / (1 - 2 * kEnough), 0.0F, 1.0F);
  }
  return greyOf(tones, swatch.width, swatch.height);
}

Image toneWish(const Image& drawing) {
  std::vector<float> tones = tonesOf(drawing);
  const auto [darkest, lightest] = std::minmax_element(tones.begin(), tones.end());
  const float from = *darkest;
  const float range = std::max(*lightest - from, 1e-6F);
  for (float& tone : tones) tone = (tone - from) / range;
  return greyOf(tones, drawing.width, drawing.height);
}

}  // namespace jugendstil
