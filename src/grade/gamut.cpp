// SPDX-License-Identifier: Apache-2.0
#include "grade/gamut.h"

#include <algorithm>

#include "grade/statistics.h"

namespace jugendstil {
namespace {

constexpr int kHalvings = 14;
constexpr float kSoft = 0.7F;  // of the way to the border before compression begins
constexpr float kSlack = 1e-4F;

bool displayable(const Oklab& c) {
  const LinearRgb v = linearOf(c);
  return std::min({v.red, v.green, v.blue}) >= -kSlack && std::max({v.red, v.green, v.blue}) <= 1 + kSlack;
}

Oklab scaled(const Oklab& c, float by) { return {c.lightness, c.a * by, c.b * by}; }

// The factor that brings the chroma to the border; at most 4.
float borderFactor(const Oklab& c) {
  float inside = 0;
  float outside = 4;
  if (displayable(scaled(c, outside))) return outside;
  for (int i = 0; i < kHalvings; ++i) {
    const float middle = (inside + outside) / 2;
    (displayable(scaled(c, middle)) ? inside : outside) = middle;
  }
  return inside;
}

}  // namespace

std::array<float, 3> fittedDisplay(const Oklab& colour, const Oklab& source) {
  Oklab c = colour;
  c.lightness = std::clamp(c.lightness, 0.0F, 1.0F);
  if (!displayable(scaled(c, 1 / kSoft))) {
    // How far each stands towards the border: 0 grey, 1 on it.
    const float reached = 1 / std::max(borderFactor(c), 1e-3F);
    const float before = std::min(1.0F, 1 / std::max(borderFactor(source), 1e-3F));
    if (reached > before) {
      const float room = 1 - before;
      const float over = room > 1e-4F ? (reached - before) / room : 0.0F;
      const float knee = (over - kSoft) / (1 - kSoft);
      const float kept = over <= kSoft ? over : kSoft + (1 - kSoft) * knee / (1 + knee);
      c = scaled(c, (before + room * kept) / reached);
    }
  }
  std::array<float, 3> out = displayOf(c);
  for (float& v : out) v = std::clamp(v, 0.0F, 1.0F);
  return out;
}

}  // namespace jugendstil
