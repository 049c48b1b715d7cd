// SPDX-License-Identifier: Apache-2.0
#include "solver/lbfgs.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/parallel.h"

namespace jugendstil {
namespace {

constexpr double kInfinite = std::numeric_limits<double>::infinity();
// How much further each trial goes while the function still falls.
constexpr double kExpansion = 2.5;
// A bracket is never cut nearer to its ends than this part of it.
constexpr double kSafe = 0.1;

// Sums by chunk, added in order, do not depend on the number of threads.
constexpr std::size_t kChunk = 32768;

int chunksOf(std::size_t size) { return static_cast<int>((size + kChunk - 1) / kChunk); }

JUGENDSTIL_VECTORISED
double dotOf(const float* a, const float* b, std::size_t n) {
  double sum = 0;
#pragma omp simd reduction(+ : sum)
  for (std::size_t i = 0; i < n; ++i) sum += static_cast<double>(a[i]) * b[i];
  return sum;
}

double dot(std::span<const float> a, std::span<const float> b) {
  std::vector<double> sums(chunksOf(a.size()));
  parallelFor(chunksOf(a.size()), [&](int i) {
    const std::size_t at = i * kChunk;
    sums[i] = dotOf(&a[at], &b[at], std::min(kChunk, a.size() - at));
  });
  double sum = 0;
  for (const double s : sums) sum += s;
  return sum;
}

void addScaled(std::vector<float>& to, double scale, std::span<const float> what) {
  const auto s = static_cast<float>(scale);
  parallelFor(chunksOf(to.size()), [&](int i) {
    const std::size_t begin = i * kChunk;
    const std::size_t end = std::min(begin + kChunk, to.size());
    for (std::size_t k = begin; k < end; ++k) to[k] += s * what[k];
  });
}

}  // namespace

Lbfgs::Lbfgs(std::vector<float> start, LbfgsSettings settings)
    : settings_(settings), trial_(std::move(start)), best_(trial_), bestValue_(kInfinite) {}

void Lbfgs::renew() {
  started_ = false;
  trial_ = best_;
  bestValue_ = kInfinite;
}

void Lbfgs::exchange(StateExchange& with) {
  with.values(trial_);
  with.values(best_);
  with.value(bestValue_);
  std::uint64_t pairs = pairs_.size();
  with.value(pairs);
  pairs_.resize(pairs);
  for (Pair& pair : pairs_) {
    with.values(pair.step);
    with.values(pair.change);
    with.value(pair.curvature);
  }
  with.value(started_);
  for (auto* vector : {&from_, &fromSlope_, &direction_}) with.values(*vector);
  for (LinePoint* point : {&origin_, &before_, &low_, &high_}) with.value(*point);
  with.value(at_);
  with.value(trials_);
  with.value(zooming_);
}

void Lbfgs::tell(double value, std::span<const float> slope) {
  if (!std::isfinite(value)) value = kInfinite;
  if (value < bestValue_) {
    bestValue_ = value;
    best_ = trial_;
  }
  if (!started_) {
    started_ = true;
    from_ = trial_;
    begin(value, slope);
    return;
  }
  ++trials_;
  const LinePoint here{at_, value, value < kInfinite ? dot(slope, direction_) : 0};
  const bool fell = value <= origin_.value + settings_.sufficient * at_ * origin_.slope;
  const bool flat = std::fabs(here.slope) <= -settings_.curvature * origin_.slope;
  if (fell && (flat || trials_ >= settings_.mostTrials)) return accept(value, slope);
  if (trials_ >= settings_.mostTrials) {
    // No good place on this line. From the best one there is, without what misled.
    pairs_.clear();
    trial_ = best_;
    started_ = false;
    return;
  }
  if (!zooming_) {
    if (!fell || (before_.at > 0 && value >= before_.value)) {
      zooming_ = true;
      low_ = before_;
      high_ = here;
    } else if (here.slope >= 0) {
      zooming_ = true;
      low_ = here;
      high_ = before_;
    } else {
      before_ = here;
      return along(at_ * kExpansion);
    }
    return zoom();
  }
  if (!fell || value >= low_.value) {
    high_ = here;
  } else {
    if (here.slope * (high_.at - low_.at) >= 0) high_ = low_;
    low_ = here;
  }
  zoom();
}

// A new line from where the last one ended.
void Lbfgs::begin(double value, std::span<const float> slope) {
  fromSlope_.assign(slope.begin(), slope.end());
  direction_ = direction();
  double down = dot(slope, direction_);
  if (!(down < 0)) {
    pairs_.clear();
    direction_ = direction();
    down = dot(slope, direction_);
  }
  origin_ = before_ = {0, value, down};
  trials_ = 0;
  zooming_ = false;
  double first = 1;
  if (pairs_.empty()) {
    const double length = std::sqrt(dot(direction_, direction_) / static_cast<double>(direction_.size()));
    first = settings_.firstLength / std::max(length, 1e-30);
  }
  along(first);
}

void Lbfgs::along(double at) {
  at_ = at;
  trial_ = from_;
  addScaled(trial_, at, direction_);
}

void Lbfgs::accept(double value, std::span<const float> slope) {
  Pair pair;
  pair.step = trial_;
  addScaled(pair.step, -1, from_);
  pair.change.assign(slope.begin(), slope.end());
  addScaled(pair.change, -1, fromSlope_);
  const double curvature = dot(pair.step, pair.change);
  if (curvature > 1e-10 * dot(pair.change, pair.change)) {
    pair.curvature = 1 / curvature;
    if (pairs_.size() == settings_.memory) pairs_.pop_front();
    pairs_.push_back(std::move(pair));
  }
  from_ = trial_;
  begin(value, slope);
}

// The next trial inside the bracket: where the cubic through both ends has its least value, kept off the
// ends.
void Lbfgs::zoom() {
  const double width = high_.at - low_.at;
  double to = low_.at + width / 2;
  if (high_.value < kInfinite) {
    const double d1 = low_.slope + high_.slope - 3 * (low_.value - high_.value) / (low_.at - high_.at);
    const double under = d1 * d1 - low_.slope * high_.slope;
    if (under >= 0) {
      const double d2 = std::copysign(std::sqrt(under), width);
      const double cubic = high_.at - width * (high_.slope + d2 - d1) / (high_.slope - low_.slope + 2 * d2);
      if (std::isfinite(cubic)) to = cubic;
    }
  }
  const double a = low_.at + kSafe * width;
  const double b = high_.at - kSafe * width;
  along(std::clamp(to, std::min(a, b), std::max(a, b)));
}

// The two-loop recursion.
std::vector<float> Lbfgs::direction() const {
  std::vector<float> q = fromSlope_;
  std::vector<double> alphas(pairs_.size());
  for (std::size_t k = pairs_.size(); k-- > 0;) {
    alphas[k] = pairs_[k].curvature * dot(pairs_[k].step, q);
    addScaled(q, -alphas[k], pairs_[k].change);
  }
  if (!pairs_.empty()) {
    const Pair& last = pairs_.back();
    const auto scale = static_cast<float>(1 / (last.curvature * dot(last.change, last.change)));
    for (float& v : q) v *= scale;
  }
  for (std::size_t k = 0; k < pairs_.size(); ++k) {
    const double beta = pairs_[k].curvature * dot(pairs_[k].change, q);
    addScaled(q, alphas[k] - beta, pairs_[k].step);
  }
  for (float& v : q) v = -v;
  return q;
}

}  // namespace jugendstil
