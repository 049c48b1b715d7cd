// SPDX-License-Identifier: Apache-2.0
#include "style/critic.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "base/parallel.h"
#include "solver/adam.h"
#include "style/places.h"
#include "style/units.h"

namespace jugendstil {
namespace {

constexpr std::size_t kHidden = 24;
constexpr std::size_t kBatch = 512;
// Positions of the picture that are judged, and moved, in a step.
constexpr std::size_t kJudged = 6144;
// A fresh judge learns before it is asked.
constexpr int kFirstLessons = 60;
constexpr float kRate = 0.01F;
// Weights shrink, so that verdicts stay soft and point somewhere.
constexpr float kDecay = 0.002F;

// One hidden layer of tanh units; verdict = w2 . tanh(W1 u + b1) + b2.
class Judge {
 public:
  Judge(std::size_t inputs, std::uint64_t seed)
      : inputs_(inputs),
        parameters_(kHidden * (inputs + 2) + 1),
        adam_(parameters_.size(), AdamSettings{0.9F, 0.99F, 0.05F}) {
    std::mt19937_64 random(seed);
    std::normal_distribution<float> normal;
    const float scale = 1 / std::sqrt(static_cast<float>(inputs));
    for (std::size_t i = 0; i < kHidden * inputs_; ++i) parameters_[i] = scale * normal(random);
    for (std::size_t h = 0; h < kHidden; ++h) parameters_[second(h)] = 0.2F * normal(random);
    parameters_.back() = 0.5F;
  }

  // The verdict on one row, and where asked what a change of the row does to it.
  float verdict(const float* u, float* slope) const {
    float sum = parameters_.back();
    if (slope != nullptr) std::fill_n(slope, inputs_, 0.0F);
    for (std::size_t h = 0; h < kHidden; ++h) {
      const float* w = &parameters_[h * inputs_];
      const float t = std::tanh(dot(w, u) + parameters_[first(h)]);
      sum += parameters_[second(h)] * t;
      if (slope == nullptr) continue;
      const float d = parameters_[second(h)] * (1 - t * t);
      for (std::size_t c = 0; c < inputs_; ++c) slope[c] += d * w[c];
    }
    return sum;
  }

  // One step towards verdicts of 1 on the first rows and 0 on the others.
  void learn(const std::vector<float>& good, const std::vector<float>& bad) {
    std::vector<float> gradient(parameters_.size());
    for (std::size_t i = 0; i < parameters_.size(); ++i) gradient[i] = kDecay * parameters_[i];
    addLesson(good, 1, gradient);
    addLesson(bad, 0, gradient);
    adam_.beginStep();
    adam_.move(parameters_, gradient, 0, kRate);
  }

  void exchange(StateExchange& with) {
    with.values(parameters_);
    adam_.exchange(with);
  }

 private:
  std::size_t first(std::size_t h) const { return kHidden * inputs_ + h; }
  std::size_t second(std::size_t h) const { return kHidden * (inputs_ + 1) + h; }

  float dot(const float* w, const float* u) const {
    float sum = 0;
#pragma omp simd reduction(+ : sum)
    for (std::size_t c = 0; c < inputs_; ++c) sum += w[c] * u[c];
    return sum;
  }

  void addLesson(const std::vector<float>& rows, float wanted, std::vector<float>& gradient) const {
    const std::size_t count = rows.size() / inputs_;
    std::array<float, kHidden> t{};
    for (std::size_t i = 0; i < count; ++i) {
      const float* u = &rows[i * inputs_];
      float sum = parameters_.back();
      for (std::size_t h = 0; h < kHidden; ++h) {
        t[h] = std::tanh(dot(&parameters_[h * inputs_], u) + parameters_[first(h)]);
        sum += parameters_[second(h)] * t[h];
      }
      const float error = 2 * (sum - wanted) / static_cast<float>(count);
      gradient.back() += error;
      for (std::size_t h = 0; h < kHidden; ++h) {
        gradient[second(h)] += error * t[h];
        const float d = error * parameters_[second(h)] * (1 - t[h] * t[h]);
        gradient[first(h)] += d;
        float* g = &gradient[h * inputs_];
        for (std::size_t c = 0; c < inputs_; ++c) g[c] += d * u[c];
      }
    }
  }

  std::size_t inputs_;
  std::vector<float> parameters_;
  Adam adam_;
};

class CriticMeasure final : public Measure {
 public:
  CriticMeasure(const BandStatistics& target, std::uint64_t seed, std::span<const float> weights)
      : band_(target.band()),
        seed_(seed),
        chosen_(heavyPlaces(weights)),
        mean_(target.mean()),
        unit_(channelUnits(target.gram(), mean_)),
        references_(target.samples()),
        judge_(mean_.size(), seed) {
    normalise(references_);
  }

  double value(Evaluator& picture, std::uint64_t step) override {
    std::mt19937_64 random(seed_ ^ (step * 0x9E3779B97F4A7C15ULL));
    positions_ = drawn(picture, random);
    std::vector<float> rows = picture.gather(band_, positions_);
    normalise(rows);
    const std::vector<float> known = some(references_, random);
    // Asked twice about one step, it answers twice the same.
    if (!asked_ || step != step_) {
      const bool fresh = !asked_ || step != step_ + 1;
      if (fresh) judge_ = Judge(mean_.size(), seed_);
      for (int lesson = 0; lesson < (fresh ? kFirstLessons : 1); ++lesson)
        judge_.learn(some(references_, random), some(rows, random));
    }
    asked_ = true;
    step_ = step;
    const double own = judged(rows, &slopes_);
    return own - judged(known, nullptr);
  }

  void addGradient(double weight, BandGradient& gradient) const override {
    const auto scale = static_cast<float>(-2 * weight / static_cast<double>(positions_.size()));
    const std::size_t n = mean_.size();
    std::vector<float> moved(slopes_);
    for (std::size_t i = 0; i < moved.size(); ++i) moved[i] *= scale * unit_[i % n];
    gradient.addAt(positions_, moved);
  }

  void exchange(StateExchange& with) override {
    judge_.exchange(with);
    with.value(asked_);
    with.value(step_);
  }

 private:
  void normalise(std::vector<float>& rows) const {
    const std::size_t n = mean_.size();
    for (std::size_t i = 0; i < rows.size(); ++i) rows[i] = (rows[i] - mean_[i % n]) * unit_[i % n];
  }

  std::vector<int> drawn(const Evaluator& picture, std::mt19937_64& random) const {
    const std::size_t all = chosen_.empty() ? picture.shape(band_).positions() : chosen_.size();
    const std::size_t count = std::min(all, kJudged);
    std::vector<int> positions(count);
    for (std::size_t i = 0; i < count; ++i) {
      // One out of each of `count` equal stretches.
      const std::size_t begin = all * i / count;
      const std::size_t place = begin + random() % (all * (i + 1) / count - begin);
      positions[i] = static_cast<int>(chosen_.empty() ? place : chosen_[place]);
    }
    return positions;
  }

  std::vector<float> some(const std::vector<float>& rows, std::mt19937_64& random) const {
    const std::size_t n = mean_.size();
    std::vector<float> batch(kBatch * n);
    for (std::size_t i = 0; i < kBatch; ++i)
      std::copy_n(&rows[random() % (rows.size() / n) * n], n, &batch[i * n]);
    return batch;
  }

  // Mean of (1 - verdict)^2; with `slopes`, (1 - verdict) times what moves each verdict.
  double judged(const std::vector<float>& rows, std::vector<float>* slopes) const {
    const std::size_t n = mean_.size();
    const std::size_t count = rows.size() / n;
    if (slopes != nullptr) slopes->resize(rows.size());
    std::vector<double> errors(count);
    parallelFor(count, [&](std::size_t i) {
      float* slope = slopes != nullptr ? &(*slopes)[i * n] : nullptr;
      const float error = 1 - judge_.verdict(&rows[i * n], slope);
      errors[i] = 1.0 * error * error;
      for (std::size_t c = 0; slope != nullptr && c < n; ++c) slope[c] *= error;
    });
    double sum = 0;
    for (const double e : errors) sum += e;
    return sum / static_cast<double>(count);
  }

  std::size_t band_;
  std::uint64_t seed_;
  std::vector<std::size_t> chosen_;  // empty: all positions
  std::vector<float> mean_;
  std::vector<float> unit_;
  std::vector<float> references_;
  Judge judge_;
  bool asked_ = false;
  std::uint64_t step_ = 0;
  std::vector<int> positions_;
  std::vector<float> slopes_;
};

}  // namespace

std::unique_ptr<Measure> makeCritic(const BandStatistics& target, std::uint64_t seed,
                                    std::span<const float> weights) {
  return std::make_unique<CriticMeasure>(target, seed, weights);
}

}  // namespace jugendstil
