// SPDX-License-Identifier: Apache-2.0
#include "style/sliced.h"

#include <algorithm>
#include <span>
#include <vector>

#include "base/number.h"
#include "base/parallel.h"
#include "style/places.h"
#include "transport/directions.h"

namespace jugendstil {
namespace {

// Mean over directions of the squared 1-D Wasserstein distance, divided by the references' mean square
// along a direction.
class SlicedMeasure final : public Measure {
 public:
  SlicedMeasure(const BandStatistics& target, std::uint64_t seed, std::span<const float> weights)
      : band_(target.band()),
        seed_(seed),
        chosen_(heavyPlaces(weights)),
        pool_(target.samples(), target.mean().size(), kPool, seed) {
    const std::size_t channels = pool_.dimension();
    const auto gram = target.gram();
    for (std::size_t c = 0; c < channels; ++c)
      norm_ += gram[c * channels + c] / static_cast<double>(channels);
    norm_ = std::max(norm_, 1e-12);
  }

  double value(Evaluator& picture, std::uint64_t step) override {
    const auto drawn = pool_.draw(kDirections, seed_ + step * 0x9E3779B97F4A7C15ULL);
    directions_.clear();
    for (const std::size_t d : drawn) {
      const auto v = pool_.direction(d);
      directions_.insert(directions_.end(), v.begin(), v.end());
    }
    residuals_ = picture.project(band_, directions_);
    const std::size_t positions = residuals_.size() / drawn.size();
    std::vector<double> distance(drawn.size());
    parallelFor(drawn.size(), [&](std::size_t k) {
      distance[k] = residual({&residuals_[k * positions], positions}, pool_.quantiles(drawn[k]));
    });
    double sum = 0;
    for (const double d : distance) sum += d;
    count_ = drawn.size();
    moved_ = chosen_.empty() ? positions : chosen_.size();
    return sum / (norm_ * static_cast<double>(count_));
  }

  void addGradient(double weight, BandGradient& gradient) const override {
    const auto scale = static_cast<float>(weight * 2.0 / (norm_ * static_cast<double>(count_ * moved_)));
    std::vector<float> scaled(directions_);
    for (float& v : scaled) v *= scale;
    gradient.addProjected(scaled, residuals_);
  }

 private:
  // Replaces the values by their residuals, those not chosen by 0; returns the mean square.
  double residual(std::span<float> values, std::span<const float> target) const {
    if (chosen_.empty()) return transportResidual(values, target);
    std::vector<float> some(chosen_.size());
    for (std::size_t i = 0; i < some.size(); ++i) some[i] = values[chosen_[i]];
    const double distance = transportResidual(some, target);
    std::fill(values.begin(), values.end(), 0.0F);
    for (std::size_t i = 0; i < some.size(); ++i) values[chosen_[i]] = some[i];
    return distance;
  }

  static constexpr std::size_t kPool = 192;
  static constexpr std::size_t kDirections = 24;
  std::size_t band_;
  std::uint64_t seed_;
  std::vector<std::size_t> chosen_;  // empty: all positions
  DirectionPool pool_;
  std::vector<float> directions_;
  std::vector<float> residuals_;
  std::size_t count_ = 1;
  std::size_t moved_ = 1;
  double norm_ = 0;
};

}  // namespace

std::unique_ptr<Measure> makeSliced(const BandStatistics& target, std::uint64_t seed,
                                    std::span<const float> weights) {
  return std::make_unique<SlicedMeasure>(target, seed, weights);
}

}  // namespace jugendstil
