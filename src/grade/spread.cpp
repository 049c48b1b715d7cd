// SPDX-License-Identifier: Apache-2.0
#include "grade/spread.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "base/parallel.h"
#include "transport/directions.h"
#include "transport/transport.h"

namespace jugendstil {
namespace {

constexpr int kTurns = 8;
// Rounds of the whole, each smoothed less than the one before, in nodes of the cube.
constexpr std::array<double, 8> kSigmas{1.6, 1.2, 1.0, 0.8, 0.7, 0.6, 0.6, 0.6};
// Pixels, as a part of all, that a node must see to be moved fully.
constexpr double kFewest = 5e-5;

using Axes = std::array<std::array<float, 3>, 3>;

// Three orthonormal axes at random; about the lightness axis only where that shall stay.
Axes turned(std::mt19937_64& random, bool lightness) {
  if (!lightness) {
    const double angle = std::uniform_real_distribution<double>(0, 3.141592653589793)(random);
    const auto c = static_cast<float>(std::cos(angle));
    const auto s = static_cast<float>(std::sin(angle));
    return {{{0, c, s}, {0, -s, c}, {0, 0, 0}}};
  }
  const std::vector<float> d = randomDirections(2, 3, random);
  const std::array<float, 3> u{d[0], d[1], d[2]};
  const float along = u[0] * d[3] + u[1] * d[4] + u[2] * d[5];
  std::array<float, 3> v{d[3] - along * u[0], d[4] - along * u[1], d[5] - along * u[2]};
  const float length = std::sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]);
  for (float& x : v) x /= std::max(length, 1e-6F);
  return {{u, v, {u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]}}};
}

float along(const Oklab& c, const std::array<float, 3>& axis) {
  return c.lightness * axis[0] + c.a * axis[1] + c.b * axis[2];
}

std::vector<float> projected(const std::vector<Oklab>& colours, const std::array<float, 3>& axis) {
  std::vector<float> out(colours.size());
  for (std::size_t i = 0; i < out.size(); ++i) out[i] = along(colours[i], axis);
  return out;
}

std::vector<float> targetQuantiles(const std::vector<SharedStatistics>& references,
                                   const std::array<float, 3>& axis) {
  double sum = 0;
  for (const SharedStatistics& r : references) sum += r.share;
  std::vector<float> mean(kQuantiles);
  for (const SharedStatistics& r : references) {
    const std::vector<float> q = quantilesOf(projected(r.statistics.colours, axis));
    const auto share = static_cast<float>(r.share / sum);
    for (std::size_t i = 0; i < mean.size(); ++i) mean[i] += share * q[i];
  }
  return mean;
}

void transport(std::vector<Oklab>& now, const std::vector<SharedStatistics>& references, bool lightness,
               std::mt19937_64& random) {
  for (int turn = 0; turn < kTurns; ++turn) {
    const Axes axes = turned(random, lightness);
    const std::size_t count = lightness ? 3 : 2;
    std::array<std::vector<float>, 3> residual;
    parallelFor(count, [&](std::size_t i) {
      residual[i] = projected(now, axes[i]);
      transportResidual(residual[i], targetQuantiles(references, axes[i]));
    });
    for (std::size_t k = 0; k < count; ++k) {
      for (std::size_t i = 0; i < now.size(); ++i) {
        now[i].lightness -= residual[k][i] * axes[k][0];
        now[i].a -= residual[k][i] * axes[k][1];
        now[i].b -= residual[k][i] * axes[k][2];
      }
    }
  }
}

// Sums of movements and of their weights, at each node.
using Sums = std::vector<std::array<double, 4>>;

// Shares a movement among the eight nodes around a colour.
void addAround(Sums& sums, int side, const std::array<float, 3>& rgb, const std::array<float, 3>& movement) {
  std::array<int, 3> cell{};
  std::array<float, 3> part{};
  for (std::size_t c = 0; c < 3; ++c) {
    const float at = std::clamp(rgb[c], 0.0F, 1.0F) * static_cast<float>(side - 1);
    cell[c] = std::min(static_cast<int>(at), side - 2);
    part[c] = at - static_cast<float>(cell[c]);
  }
  for (int k = 0; k < 8; ++k) {
    float weight = 1;
    int node = 0;
    for (int c = 2; c >= 0; --c) {
      const int up = k >> c & 1;
      weight *= up != 0 ? part[c] : 1 - part[c];
      node = node * side + cell[c] + up;
    }
    auto& sum = sums[node];
    for (std::size_t c = 0; c < 3; ++c) sum[c] += weight * movement[c];
    sum[3] += weight;
  }
}

// Gaussian blur over the cube of sums and of their weight alike, so that borders need no care.
void blur(Sums& nodes, int side, double sigma) {
  const int reach = static_cast<int>(std::ceil(3 * sigma));
  std::vector<double> kernel;
  for (int i = -reach; i <= reach; ++i) kernel.push_back(std::exp(-i * i / (2 * sigma * sigma)));
  for (int step = 1, axis = 0; axis < 3; ++axis, step *= side) {
    const auto before = nodes;
    parallelFor(side * side * side, [&](int n) {
      const int at = n / step % side;
      std::array<double, 4> sum{};
      for (int i = std::max(-reach, -at); i <= std::min(reach, side - 1 - at); ++i) {
        const auto& from = before[n + i * step];
        for (std::size_t c = 0; c < 4; ++c) sum[c] += kernel[i + reach] * from[c];
      }
      nodes[n] = sum;
    });
  }
}

}  // namespace

void spreadColours(ColourTable& map, const std::vector<std::array<float, 3>>& at,
                   const std::vector<SharedStatistics>& references, bool lightness) {
  std::mt19937_64 random(1);
  std::vector<std::array<float, 3>> shown(at.size());
  std::vector<Oklab> moved(at.size());
  for (const double sigma : kSigmas) {
    for (std::size_t i = 0; i < at.size(); ++i) {
      shown[i] = interpolated(map, at[i]);
      moved[i] = oklabOfDisplay(shown[i]);
    }
    transport(moved, references, lightness, random);
    Sums sums(map.nodes());
    for (std::size_t i = 0; i < at.size(); ++i) {
      std::array<float, 3> movement = displayOf(moved[i]);
      for (std::size_t c = 0; c < 3; ++c) movement[c] = std::clamp(movement[c], 0.0F, 1.0F) - shown[i][c];
      addAround(sums, map.size, at[i], movement);
    }
    blur(sums, map.size, sigma);
    const double fewest = kFewest * static_cast<double>(at.size());
    for (std::size_t n = 0; n < map.nodes(); ++n) {
      for (std::size_t c = 0; c < 3; ++c) {
        float& v = map.rgb[n * 3 + c];
        v = std::clamp(v + static_cast<float>(sums[n][c] / (sums[n][3] + fewest)), 0.0F, 1.0F);
      }
    }
    limitSlopes(map, kMostStep, kSlopesFrom);
  }
}

}  // namespace jugendstil
