// SPDX-License-Identifier: Apache-2.0
#include "image/blend.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"

namespace jugendstil {
namespace {

using Rgb = std::array<float, 3>;

float dodge(float below, float above) {
  if (below <= 0) return 0;
  return above >= 1 ? 1.0F : std::min(1.0F, below / (1 - above));
}

float burn(float below, float above) {
  if (below >= 1) return 1;
  return above <= 0 ? 0.0F : 1 - std::min(1.0F, (1 - below) / above);
}

float hardLight(float below, float above) {
  return above <= 0.5F ? below * 2 * above : below + (2 * above - 1) - below * (2 * above - 1);
}

float softLight(float below, float above) {
  if (above <= 0.5F) return below - (1 - 2 * above) * below * (1 - below);
  const float d = below <= 0.25F ? ((16 * below - 12) * below + 4) * below : std::sqrt(below);
  return below + (2 * above - 1) * (d - below);
}

float separable(BlendMode mode, float b, float s) {
  switch (mode) {
    case BlendMode::multiply:
      return b * s;
    case BlendMode::screen:
      return b + s - b * s;
    case BlendMode::overlay:
      return hardLight(s, b);
    case BlendMode::darken:
      return std::min(b, s);
    case BlendMode::lighten:
      return std::max(b, s);
    case BlendMode::colourDodge:
      return dodge(b, s);
    case BlendMode::colourBurn:
      return burn(b, s);
    case BlendMode::hardLight:
      return hardLight(b, s);
    case BlendMode::softLight:
      return softLight(b, s);
    case BlendMode::difference:
      return std::fabs(b - s);
    case BlendMode::exclusion:
      return b + s - 2 * b * s;
    default:
      return s;
  }
}

float luminosityOf(const Rgb& c) { return 0.3F * c[0] + 0.59F * c[1] + 0.11F * c[2]; }

float saturationOf(const Rgb& c) { return std::max({c[0], c[1], c[2]}) - std::min({c[0], c[1], c[2]}); }

Rgb clipped(Rgb c) {
  const float l = luminosityOf(c);
  const float least = std::min({c[0], c[1], c[2]});
  const float most = std::max({c[0], c[1], c[2]});
  for (float& v : c) {
    if (least < 0) v = l + (v - l) * l / (l - least);
    if (most > 1) v = l + (v - l) * (1 - l) / (most - l);
  }
  return c;
}

Rgb withLuminosity(Rgb c, float luminosity) {
  const float d = luminosity - luminosityOf(c);
  for (float& v : c) v += d;
  return clipped(c);
}

Rgb withSaturation(Rgb c, float saturation) {
  const float least = std::min({c[0], c[1], c[2]});
  const float range = saturationOf(c);
  for (float& v : c) v = range > 0 ? (v - least) * saturation / range : 0;
  return c;
}

}  // namespace

const std::vector<std::string>& blendModeNames() {
  static const std::vector<std::string> names{"normal",     "multiply",   "screen",      "overlay",
                                              "darken",     "lighten",    "color-dodge", "color-burn",
                                              "hard-light", "soft-light", "difference",  "exclusion",
                                              "hue",        "saturation", "color",       "luminosity"};
  return names;
}

std::string blendModeName(BlendMode mode) { return blendModeNames()[static_cast<std::size_t>(mode)]; }

BlendMode blendModeOf(std::string_view name) {
  const auto& names = blendModeNames();
  // The specification spells it in American; both are understood.
  std::string known(name);
  if (known.starts_with("colour")) known.erase(4, 1);
  const auto found = std::find(names.begin(), names.end(), known);
  if (found == names.end()) {
    throw UsageError(fmt::format("blend is {}, not \"{}\"", fmt::join(names, ", "), name));
  }
  return static_cast<BlendMode>(found - names.begin());
}

std::array<float, 3> blended(BlendMode mode, const Rgb& below, const Rgb& above) {
  if (mode == BlendMode::normal) return above;
  Rgb b{};
  Rgb s{};
  for (std::size_t c = 0; c < 3; ++c) {
    b[c] = std::clamp(below[c], 0.0F, 1.0F);
    s[c] = std::clamp(above[c], 0.0F, 1.0F);
  }
  switch (mode) {
    case BlendMode::hue:
      return withLuminosity(withSaturation(s, saturationOf(b)), luminosityOf(b));
    case BlendMode::saturation:
      return withLuminosity(withSaturation(b, saturationOf(s)), luminosityOf(b));
    case BlendMode::colour:
      return withLuminosity(s, luminosityOf(b));
    case BlendMode::luminosity:
      return withLuminosity(b, luminosityOf(s));
    default:
      break;
  }
  Rgb out{};
  for (std::size_t c = 0; c < 3; ++c) out[c] = separable(mode, b[c], s[c]);
  return out;
}

}  // namespace jugendstil
