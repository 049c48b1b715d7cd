// SPDX-License-Identifier: Apache-2.0
#include "paint/calm.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>
#include <vector>

#include "image/box_mean.h"
#include "image/display_oklab.h"

namespace jugendstil {
namespace {

// Two flat colours this far apart in Oklab can just be told apart.
constexpr double kJustSeen = 0.02;
// What is left to come may be this much: another seed changes half as much again.
constexpr double kGood = 1;

using Seen = std::array<std::vector<float>, 3>;

Seen seenOf(const Image& picture) {
  Seen seen;
  for (auto& plane : seen) plane.resize(picture.area());
  for (std::size_t i = 0; i < picture.area(); ++i) {
    const float* p = picture.pixel(i);
    const std::array<float, 3> inside{std::clamp(p[0], 0.0F, 1.0F), std::clamp(p[1], 0.0F, 1.0F),
                                      std::clamp(p[2], 0.0F, 1.0F)};
    const Oklab c = oklabOfDisplay(inside.data());
    seen[0][i] = c.lightness;
    seen[1][i] = c.a;
    seen[2][i] = c.b;
  }
  for (auto& plane : seen) plane = boxMeans(plane, picture.width, picture.height, 1);
  return seen;
}

}  // namespace

double visibleChange(const Image& a, const Image& b) {
  const Seen first = seenOf(a);
  const Seen second = seenOf(b);
  double sum = 0;
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < first[c].size(); ++i) {
      const double d = first[c][i] - second[c][i];
      sum += d * d;
    }
  }
  return std::sqrt(sum / static_cast<double>(a.area())) / kJustSeen;
}

bool Calm::look(const Image& picture, int done, int steps) {
  if (done % kEvery != 0) return false;
  const Image before = std::exchange(before_, picture);
  if (before.empty()) return false;
  const double change = visibleChange(before, picture);
  // Steps do not all go the same way: what many of them change grows with the root of their number.
  const double left = steps - done;
  return change * std::sqrt(left / kEvery) / 2 < kGood;
}

void Calm::exchange(StateExchange& with) { exchangeImage(with, before_); }

}  // namespace jugendstil
