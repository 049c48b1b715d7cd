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
    axes[0].push_back(static_cast<double>(lab.lightness));
    axes[1].push_back(static_cast<double>(lab.a));
    axes[2].push_back(static_cast<double>(lab.b));
  }
  for (auto& axis : axes) std::sort(axis.begin(), axis.end());
  return axes;
}

CieLab atRank(const std::array<std::vector<double>, 3>& axes, int rank) {
  const std::size_t at = std::lround((rank + 1.0) / (kRanks + 1) * static_cast<double>(axes[0].size() - 1));
  const auto value = [&](std::size_t axis) { return static_cast<float>(axes[axis][at]); };
  return {value(0), value(1), value(2)};
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

CieLab cieLabOf(const Oklab& colour) { return cieLabOf(linearOf(colour)); }

double ciede2000(const CieLab& first, const CieLab& second) {
  const auto widened = [](const CieLab& c) {
    return cmsCIELab{static_cast<double>(c.lightness), static_cast<double>(c.a), static_cast<double>(c.b)};
  };
  const cmsCIELab a = widened(first);
  const cmsCIELab b = widened(second);
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
