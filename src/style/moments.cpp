// SPDX-License-Identifier: Apache-2.0
#include "style/moments.h"

#include <algorithm>
#include <cmath>

namespace jugendstil {
namespace {

// Sum over channels of (mean - mean_s)^2 + (deviation - deviation_s)^2, divided by the references' sum of
// mean^2 + deviation^2.
class MomentsMeasure final : public Measure {
 public:
  MomentsMeasure(const BandStatistics& target, WeightedBand band)
      : band_(std::move(band)), mean_(target.mean()) {
    deviation_ = deviations(target.gram(), mean_);
    for (std::size_t c = 0; c < mean_.size(); ++c) {
      norm_ += static_cast<double>(mean_[c]) * mean_[c] + static_cast<double>(deviation_[c]) * deviation_[c];
    }
    norm_ = std::max(norm_, 1e-12);
  }

  double value(Evaluator& picture, std::uint64_t) override {
    band_.look(picture);
    currentMean_ = band_.mean(picture);
    currentDeviation_ = deviations(band_.gram(picture), currentMean_);
    positions_ = band_.positions(picture);
    double sum = 0;
    for (std::size_t c = 0; c < mean_.size(); ++c) {
      const double m = currentMean_[c] - mean_[c];
      const double d = currentDeviation_[c] - deviation_[c];
      sum += m * m + d * d;
    }
    return sum / norm_;
  }

  // d mean/da = 1/P and d deviation/da = (a - mean)/(P deviation): an affine map of each channel.
  void addGradient(double weight, BandGradient& gradient) const override {
    const std::size_t channels = mean_.size();
    std::vector<float> matrix(channels * channels, 0.0F);
    std::vector<float> offset(channels);
    const double scale = weight * 2.0 / (norm_ * positions_);
    for (std::size_t c = 0; c < channels; ++c) {
      const double slope = scale * (currentDeviation_[c] - deviation_[c]) / currentDeviation_[c];
      matrix[c * channels + c] = static_cast<float>(slope);
      offset[c] = static_cast<float>(scale * (currentMean_[c] - mean_[c]));
    }
    gradient.addLinear(matrix, currentMean_, offset, band_.weights());
  }

 private:
  static std::vector<float> deviations(const std::vector<float>& gram, const std::vector<float>& mean) {
    std::vector<float> result(mean.size());
    for (std::size_t c = 0; c < mean.size(); ++c) {
      result[c] = std::sqrt(std::max(gram[c * mean.size() + c] - mean[c] * mean[c], 1e-8F));
    }
    return result;
  }

  WeightedBand band_;
  std::vector<float> mean_;
  std::vector<float> deviation_;
  std::vector<float> currentMean_;
  std::vector<float> currentDeviation_;
  double norm_ = 0;
  double positions_ = 1;
};

}  // namespace

std::unique_ptr<Measure> makeMoments(const BandStatistics& target, WeightedBand band) {
  return std::make_unique<MomentsMeasure>(target, std::move(band));
}

}  // namespace jugendstil
