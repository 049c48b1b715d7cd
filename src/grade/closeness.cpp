// SPDX-License-Identifier: Apache-2.0
#include "grade/closeness.h"

#include <lcms2.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "base/parallel.h"
#include "transport/directions.h"
#include "transport/transport.h"

namespace jugendstil {
namespace {

constexpr std::size_t kDirections = 64;
constexpr int kRanks = 99;

std::vector<float> projection(const std::vector<Oklab>& colours, const float* d) {
  std::vector<float> out(colours.size());
  for (std::size_t i = 0; i < out.size(); ++i) {
    out[i] = colours[i].lightness * d[0] + colours[i].a * d[1] + colours[i].b * d[2];
  }
  return out;
}

std::array<std::vector<double>, 3> sortedAxes(const std::vector<Oklab>& colours) {
  std::array<std::vector<double>, 3> axes;
  for (const Oklab& c : colours) {
    const CieLab lab = cieLabOf(c);
    axes[0].push_back(lab.lightness);
    axes[1].push_back(lab.a);
    axes[2].push_back(lab.b);
  }
  for (auto& axis : axes) std::sort(axis.begin(), axis.end());
  return axes;
}

CieLab atRank(const std::array<std::vector<double>, 3>& axes, int rank) {
  const std::size_t at = std::lround((rank + 1.0) / (kRanks + 1) * static_cast<double>(axes[0].size() - 1));
  return {axes[0][at], axes[1][at], axes[2][at]};
}

}  // namespace

double slicedDistance(const std::vector<Oklab>& a, const std::vector<Oklab>& b) {
  std::mt19937_64 random(20);
  const std::vector<float> directions = randomDirections(kDirections, 3, random);
  std::array<double, kDirections> squares{};
  parallelFor(kDirections, [&](std::size_t k) {
    const float* d = &directions[k * 3];
    const auto first = quantilesOf(projection(a, d));
    const auto second = quantilesOf(projection(b, d));
    double sum = 0;
    for (std::size_t i = 0; i < kQuantiles; ++i) {
      const auto difference = static_cast<double>(first[i] - second[i]);
      sum += difference * difference;
    }
    squares[k] = sum / kQuantiles;
  });
  double sum = 0;
  for (const double s : squares) sum += s;
  return std::sqrt(sum / kDirections);
}

CieLab cieLabOf(const Oklab& colour) {
  const LinearRgb c = linearOf(colour);
  const double r = c.red;
  const double g = c.green;
  const double b = c.blue;
  const auto f = [](double t) { return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116; };
  // IEC 61966-2-1 primaries, divided by the white point.
  const double x = f((0.4123908 * r + 0.3575843 * g + 0.1804808 * b) / 0.9504559);
  const double y = f(0.2126390 * r + 0.7151687 * g + 0.0721923 * b);
  const double z = f((0.0193308 * r + 0.1191948 * g + 0.9505322 * b) / 1.0890578);
  return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}

double ciede2000(const CieLab& first, const CieLab& second) {
  const cmsCIELab a{first.lightness, first.a, first.b};
  const cmsCIELab b{second.lightness, second.a, second.b};
  return cmsCIE2000DeltaE(&a, &b, 1, 1, 1);
}

double quantileDistance(const std::vector<Oklab>& a, const std::vector<Oklab>& b) {
  const auto first = sortedAxes(a);
  const auto second = sortedAxes(b);
  double sum = 0;
  for (int rank = 0; rank < kRanks; ++rank) sum += ciede2000(atRank(first, rank), atRank(second, rank));
  return sum / kRanks;
}

}  // namespace jugendstil
