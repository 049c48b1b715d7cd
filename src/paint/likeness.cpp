// SPDX-License-Identifier: Apache-2.0
#include "paint/likeness.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "image/mask.h"

namespace jugendstil {
namespace {

// So much more likeness doubles the weights of content and layout.
constexpr double kDoubling = 13;
// With a layout of 1.5 at likeness 50 weak outlines went under, with 5 the references' colours.
constexpr double kLayout = 2;

double doubled(double likeness) { return std::pow(2.0, likeness / kDoubling); }

}  // namespace

Likeness likenessWith(double usual, const std::vector<HeldPart>& parts, Size picture) {
  Likeness likeness{usual};
  for (std::size_t i = 0; i < parts.size(); ++i) {
    const Image mask = resizedMask(parts[i].mask, picture.width, picture.height);
    if (!(coverage(mask) > 0))
      throw UsageError(fmt::format("held part {} covers nothing: its mask is black all over", i + 1));
    if (likeness.here.empty()) {
      // References that bleach raise it beyond what a map can hold.
      likeness.usual = std::min(usual, 100.0);
      likeness.here = Image(picture.width, picture.height, 1, static_cast<float>(likeness.usual / 100));
    }
    const auto own = static_cast<float>(parts[i].likeness / 100);
    for (std::size_t p = 0; p < mask.pixels.size(); ++p) {
      float& value = likeness.here.pixels[p];
      value += mask.pixels[p] * (own - value);
    }
  }
  return likeness;
}

double contentWeight(double likeness, ContentKind kind) {
  const double weight = doubled(likeness - 50);  // 50 is 1 for structure
  return kind == ContentKind::structure ? weight : 0.2 * weight;
}

double layoutWeight(double likeness) { return kLayout * doubled(likeness - 50); }

Image heldMore(const Likeness& likeness, Size size) {
  if (likeness.here.empty()) return {};
  Image more = resizedMask(likeness.here, size.width, size.height);
  for (float& v : more.pixels) v = static_cast<float>(doubled(100.0 * v - likeness.usual));
  return more;
}

}  // namespace jugendstil
