// SPDX-License-Identifier: Apache-2.0
#include "synthetic_photos.h"

#include <algorithm>
#include <cmath>

namespace bench {
namespace {

constexpr int kBlobs = 3;

double lightAt(int number, double u, double v) {
  if (number == 0) return v;
  if (number == 1) return u;
  if (number == 2) return (u + v) / 2;
  double light = 0.15;
  for (int i = 1; i <= kBlobs; ++i) {
    const double du = u - std::fmod(0.31 * i * number, 1.0);
    const double dv = v - std::fmod(0.47 * (i + 1) * number, 1.0);
    light += 0.5 * std::exp(-(du * du + dv * dv) / 0.06);
  }
  return std::min(light, 1.0);
}

}  // namespace

jugendstil::Image syntheticPhoto(int number, int width, int height) {
  jugendstil::Image photo(width, height, 3);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const double light = lightAt(number, 1.0 * x / width, 1.0 * y / height);
      photo.at(x, y, 0) = static_cast<float>(0.2 + 0.6 * light);
      photo.at(x, y, 1) = static_cast<float>(0.25 + 0.5 * light);
      photo.at(x, y, 2) = static_cast<float>(0.7 - 0.3 * light);
    }
  }
  return photo;
}

}  // namespace bench
