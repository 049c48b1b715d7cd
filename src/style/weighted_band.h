// SPDX-License-Identifier: Apache-2.0
// Second moments of a band, of all of it or of a part.
#pragma once

#include <cstddef>
#include <span>
#include <utility>
#include <vector>

#include "network/evaluator.h"

namespace jugendstil {

// A band of the picture, looked at everywhere or where weights say.
class WeightedBand {
 public:
  WeightedBand(std::size_t band, std::vector<float> weights) : band_(band), weights_(std::move(weights)) {
    for (const float w : weights_) total_ += w;
  }

  bool everywhere() const { return weights_.empty(); }
  std::span<const float> weights() const { return weights_; }
  double positions(const Evaluator& picture) const {
    return everywhere() ? picture.shape(band_).positions() : total_;
  }

  // References hold until the evaluator's next pass, or the next look().
  const std::vector<float>& gram(Evaluator& picture) const {
    return everywhere() ? picture.gram(band_) : own_.gram;
  }
  const std::vector<float>& mean(Evaluator& picture) const {
    return everywhere() ? picture.mean(band_) : own_.mean;
  }
  void look(Evaluator& picture) {
    if (!everywhere()) own_ = picture.weightedMoments(band_, weights_);
  }

 private:
  std::size_t band_;
  std::vector<float> weights_;
  double total_ = 0;
  BandMoments own_;
};

}  // namespace jugendstil
