// SPDX-License-Identifier: Apache-2.0
#include "style/gram.h"

#include <algorithm>

#include "base/parallel.h"
#include "style/units.h"

namespace jugendstil {
namespace {

// |G - T|^2 / |T|^2 with G = u u^T / P, where u are the activations with the references' means taken off and
// each channel divided by the references' deviation. Taken off, because a plain Gram matrix is ruled by its
// means: two pictures of one average but different strokes differ in it by a per cent.
class GramMeasure final : public Measure {
 public:
  GramMeasure(const BandStatistics& target, WeightedBand band)
      : band_(std::move(band)), mean_(target.mean()), target_(target.gram()) {
    const std::size_t n = mean_.size();
    unit_ = channelUnits(target_, mean_);
    for (std::size_t i = 0; i < n; ++i) centreRow(&target_[i * n], mean_, i, &target_[i * n]);
    for (const float v : target_) norm_ += 1.0 * v * v;
    norm_ = std::max(norm_, 1e-12);
  }

  double value(Evaluator& picture, std::uint64_t) override {
    const std::size_t n = mean_.size();
    band_.look(picture);
    const std::vector<float>& gram = band_.gram(picture);
    const std::vector<float>& mean = band_.mean(picture);
    positions_ = band_.positions(picture);
    difference_.resize(target_.size());
    std::vector<float> rows(n);
    parallelFor(n, [&](std::size_t i) {
      float* out = &difference_[i * n];
      centreRow(&gram[i * n], mean, i, out);
      const float* target = &target_[i * n];
      float sum = 0;
#pragma omp simd reduction(+ : sum)
      for (std::size_t j = 0; j < n; ++j) {
        out[j] -= target[j];
        sum += out[j] * out[j];
      }
      rows[i] = sum;
    });
    double sum = 0;
    for (const float r : rows) sum += r;
    return sum / norm_;
  }

  void addGradient(double weight, BandGradient& gradient) const override {
    const std::size_t n = mean_.size();
    const auto scale = static_cast<float>(weight * 4.0 / (norm_ * positions_));
    std::vector<float> matrix(difference_);
    parallelFor(n, [&](std::size_t i) {
      for (std::size_t j = 0; j < n; ++j) matrix[i * n + j] *= scale * unit_[i] * unit_[j];
    });
    gradient.addLinear(matrix, mean_, std::vector<float>(n, 0.0F), band_.weights());
  }

 private:
  // Row i of the second moments about the references' means, in units of their deviations.
  void centreRow(const float* gram, const std::vector<float>& mean, std::size_t i, float* out) const {
    for (std::size_t j = 0; j < mean.size(); ++j) {
      out[j] =
          (gram[j] - mean_[i] * mean[j] - mean[i] * mean_[j] + mean_[i] * mean_[j]) * unit_[i] * unit_[j];
    }
  }

  WeightedBand band_;
  std::vector<float> mean_;
  std::vector<float> unit_;
  std::vector<float> target_;
  std::vector<float> difference_;
  double norm_ = 0;
  double positions_ = 1;
};

}  // namespace

std::unique_ptr<Measure> makeGram(const BandStatistics& target, WeightedBand band) {
  return std::make_unique<GramMeasure>(target, std::move(band));
}

}  // namespace jugendstil
