// SPDX-License-Identifier: Apache-2.0
#include "grade/tone.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "image/colour.h"

namespace jugendstil {
namespace {

constexpr int kSegments = 96;
constexpr int kSweeps = 400;
// Against squared tone errors averaged over ranks: changes of slope between segments, and slopes other than 1
// (which decides where the picture has no pixels).
constexpr double kRoughness = 1e-5;
constexpr double kPull = 3e-6;
constexpr double kMostBlack = 0.35;
constexpr double kEndPull = 20;
constexpr double kGrainSlope = 0.6;  // of shadows whose black is lifted by kGrainLift or more
constexpr double kGrainLift = 0.2;
// Dark tones differ more to the eye than their code values do; errors count by that, up to here.
constexpr double kMostWeight = 3;

// Unknowns: the value at 0, then the slope of each segment. A value at x is linear in them.
Eigen::VectorXd row(double x) {
  Eigen::VectorXd r = Eigen::VectorXd::Zero(kSegments + 1);
  r[0] = 1;
  for (int j = 0; j < kSegments; ++j) {
    r[j + 1] = std::clamp(x - static_cast<double>(j) / kSegments, 0.0, 1.0 / kSegments);
  }
  return r;
}

struct Quadratic {
  Eigen::MatrixXd h = Eigen::MatrixXd::Zero(kSegments + 1, kSegments + 1);
  Eigen::VectorXd g = Eigen::VectorXd::Zero(kSegments + 1);

  void add(const Eigen::VectorXd& r, double target, double weight) {
    h += weight * r * r.transpose();
    g += weight * target * r;
  }
};

// How many steps of perceived lightness a step of tone is, relative to mid-grey.
double sensitivity(double tone) {
  const auto lightness = [](double t) {
    return std::cbrt(static_cast<double>(srgbToLinear(static_cast<float>(t))));
  };
  constexpr double kStep = 0.01;
  const auto slope = [&](double t) { return lightness(t + kStep) - lightness(std::max(0.0, t - kStep)); };
  return std::min(kMostWeight, slope(tone) / slope(0.5));
}

// Shadows may be stretched more: nothing there is as smooth as a sky. But where blacks are lifted into sight,
// their grain comes along, and is kept flat.
double mostSlope(int segment, double lift) {
  const double tone = (segment + 0.5) / kSegments;
  const double shadows =
      kMostSlope + (kMostShadowSlope - kMostSlope) * std::clamp((0.22 - tone) / 0.12, 0.0, 1.0);
  const double grain = std::clamp(lift / kGrainLift, 0.0, 1.0) * std::clamp((0.16 - tone) / 0.06, 0.0, 1.0);
  return shadows + (kGrainSlope - shadows) * grain;
}

// Box-constrained least squares by coordinate descent; the problem is small and strictly convex.
void solve(const Quadratic& q, double lift, Eigen::VectorXd& u) {
  for (int sweep = 0; sweep < kSweeps; ++sweep) {
    for (int i = 0; i <= kSegments; ++i) {
      const double free = u[i] + (q.g[i] - q.h.row(i).dot(u)) / q.h(i, i);
      u[i] =
          i == 0 ? std::clamp(free, 0.0, kMostBlack) : std::clamp(free, kLeastSlope, mostSlope(i - 1, lift));
    }
  }
}

}  // namespace

MonotoneCurve::MonotoneCurve() : MonotoneCurve({{0.0F, 0.0F}, {1.0F, 1.0F}}) {}

MonotoneCurve::MonotoneCurve(std::vector<std::pair<float, float>> points) : points_(std::move(points)) {
  if (points_.size() < 2) throw UsageError("a curve needs at least two points");
  const std::size_t n = points_.size();
  std::vector<float> secant(n - 1);
  for (std::size_t i = 0; i + 1 < n; ++i) {
    const float dx = points_[i + 1].first - points_[i].first;
    const float dy = points_[i + 1].second - points_[i].second;
    if (!(dx > 0) || !(dy >= 0)) throw UsageError("a curve's points ascend from left to right, x strictly");
    secant[i] = dy / dx;
  }
  slopes_.resize(n);
  slopes_.front() = secant.front();
  slopes_.back() = secant.back();
  for (std::size_t i = 1; i + 1 < n; ++i) {
    // The harmonic mean keeps each cubic inside its points.
    const float a = secant[i - 1];
    const float b = secant[i];
    slopes_[i] = a > 0 && b > 0 ? 2 * a * b / (a + b) : 0.0F;
  }
}

std::size_t MonotoneCurve::segment(float x) const {
  const auto after = std::upper_bound(points_.begin() + 1, points_.end() - 1, x,
                                      [](float v, const auto& p) { return v < p.first; });
  return after - points_.begin() - 1;
}

float MonotoneCurve::operator()(float x) const {
  if (x <= points_.front().first) return points_.front().second;
  if (x >= points_.back().first) return points_.back().second;
  const std::size_t i = segment(x);
  const float h = points_[i + 1].first - points_[i].first;
  const float t = (x - points_[i].first) / h;
  const float s = 1 - t;
  return (1 + 2 * t) * s * s * points_[i].second + t * s * s * h * slopes_[i] +
         t * t * (3 - 2 * t) * points_[i + 1].second - t * t * s * h * slopes_[i + 1];
}

float MonotoneCurve::slope(float x) const {
  const std::size_t i = segment(x);
  const float h = points_[i + 1].first - points_[i].first;
  const float t = std::clamp((x - points_[i].first) / h, 0.0F, 1.0F);
  const float secant = (points_[i + 1].second - points_[i].second) / h;
  return 6 * t * (1 - t) * secant + (1 - t) * (1 - 3 * t) * slopes_[i] + t * (3 * t - 2) * slopes_[i + 1];
}

MonotoneCurve matchTone(const std::vector<float>& from, const std::vector<float>& to) {
  Quadratic q;
  for (std::size_t i = 0; i < from.size(); ++i) {
    const double eye = sensitivity(to[i]);
    q.add(row(from[i]), to[i], eye * eye / static_cast<double>(from.size()));
  }
  for (int j = 1; j <= kSegments; ++j) {
    Eigen::VectorXd slope = Eigen::VectorXd::Zero(kSegments + 1);
    slope[j] = 1;
    q.add(slope, 1, kPull);
    if (j == kSegments) break;
    slope[j + 1] = -1;
    q.add(slope, 0, kRoughness);
  }
  Eigen::VectorXd u = Eigen::VectorXd::Ones(kSegments + 1);
  u[0] = 0;
  solve(q, 0, u);
  const double lift = u[0];
  if (lift > 0) solve(q, lift, u);
  const Eigen::VectorXd end = row(1.0);
  if (end.dot(u) > 1) {
    q.add(end, 1, kEndPull);
    solve(q, lift, u);
  }
  const double last = end.dot(u);
  const double shrink = last > 1 ? (1 - u[0]) / (last - u[0]) : 1;
  std::vector<std::pair<float, float>> points;
  for (int j = 0; j <= kSegments; ++j) {
    const double x = 1.0 * j / kSegments;
    points.emplace_back(static_cast<float>(x), static_cast<float>(u[0] + (row(x).dot(u) - u[0]) * shrink));
  }
  return MonotoneCurve(std::move(points));
}

}  // namespace jugendstil
