// SPDX-License-Identifier: Apache-2.0
// Matching the distribution of lightness by one smooth curve.
#pragma once

#include <utility>
#include <vector>

namespace jugendstil {

// A monotone curve through points: piecewise cubic without overshoot (Fritsch & Carlson 1980), continued by
// its end values outside its points.
class MonotoneCurve {
 public:
  // The identity on [0, 1].
  MonotoneCurve();
  // x strictly ascending, y not descending. Throws UsageError otherwise, or for fewer than two points.
  explicit MonotoneCurve(std::vector<std::pair<float, float>> points);

  float operator()(float x) const;
  float slope(float x) const;
  const std::vector<std::pair<float, float>>& points() const { return points_; }

 private:
  std::size_t segment(float x) const;

  std::vector<std::pair<float, float>> points_;
  std::vector<float> slopes_;  // at the points
};

// The slope that a matched tone curve keeps to: enough to hold detail, not enough to open gaps in a sky.
inline constexpr double kLeastSlope = 0.25;
inline constexpr double kMostSlope = 1.75;
inline constexpr double kMostShadowSlope = 2.2;  // below a tone of 0.1, coming down to kMostSlope at 0.22

// The curve on [0, 1] that carries the tones of one picture to another's as closely as a smooth curve with
// slopes in [kLeastSlope, kMostSlope] (kMostShadowSlope in the shadows) can: least squares between the
// quantiles of both, weighted by how the eye tells tones apart, with a penalty on changes of slope. Its
// values stay in [0, 1], so that it clips nothing. Both lists hold quantiles of tone at the same, evenly
// spaced ranks.
MonotoneCurve matchTone(const std::vector<float>& from, const std::vector<float>& to);

}  // namespace jugendstil
