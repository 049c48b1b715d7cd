// SPDX-License-Identifier: Apache-2.0
#include "weave/layout.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <vector>

#include "base/error.h"
#include "image/box_mean.h"
#include "image/luma.h"

namespace jugendstil {
namespace {

// Colours are told apart by cells of 8 in 256 a channel, and those not more than three cells apart are one: a
// map drawn by hand, or saved as JPEG, is never exact.
constexpr int kCells = 32;
constexpr int kOneColour = 3;
constexpr int kToneParts = 16;
// What is dark or light enough for black or white. With less of the swatch, its few darkest places are all
// over.
constexpr float kEnough = 1.0F / 3;

using Colour = std::array<int, 3>;  // red, green and blue of 255

Colour colourOf(const float* p) {
  const auto byte = [](float v) { return rounded(255.0 * std::clamp(v, 0.0F, 1.0F)); };
  return {byte(p[0]), byte(p[1]), byte(p[2])};
}

// All colours that are those of a map.
class MapColours {
 public:
  explicit MapColours(const Image& map) : known_(std::size_t{kCells} * kCells * kCells) {
    std::vector<std::uint8_t> there(known_.size());
    for (std::size_t i = 0; i < map.area(); ++i) there[cellOf(colourOf(map.pixel(i)))] = 1;
    for (int r = 0; r < kCells; ++r) {
      for (int g = 0; g < kCells; ++g) {
        for (int b = 0; b < kCells; ++b) {
          if (there[cell(r, g, b)] != 0) take(r, g, b);
        }
      }
    }
  }
  bool has(const Colour& colour) const { return known_[cellOf(colour)] != 0; }

 private:
  static std::size_t cell(int r, int g, int b) { return cellAt(b, r * kCells + g, kCells); }
  static std::size_t cellOf(const Colour& c) { return cell(c[0] / 8, c[1] / 8, c[2] / 8); }
  void take(int r, int g, int b) {
    const auto from = [](int c) { return std::max(0, c - kOneColour); };
    const auto to = [](int c) { return std::min(kCells - 1, c + kOneColour); };
    for (int u = from(r); u <= to(r); ++u) {
      for (int v = from(g); v <= to(g); ++v) {
        for (int w = from(b); w <= to(b); ++w) known_[cell(u, v, w)] = 1;
      }
    }
  }
  std::vector<std::uint8_t> known_;
};

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
  const MapColours colours(map);
  for (int y = 1; y + 1 < layout.height; ++y) {
    for (int x = 1; x + 1 < layout.width; ++x) {
      const auto at = [&](int dx, int dy) {
        return colourOf(layout.pixel(cellAt(x + dx, y + dy, layout.width)));
      };
      const Colour own = at(0, 0);
      if (colours.has(own)) continue;
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
