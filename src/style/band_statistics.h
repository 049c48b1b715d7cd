// SPDX-License-Identifier: Apache-2.0
// What is remembered of the references' activations.
#pragma once

#include <cstddef>
#include <vector>

#include "network/evaluator.h"
#include "style/measure_kind.h"

namespace jugendstil {

// Of the references in one band: share-weighted means of their statistics, and where the
// measure needs them samples of activations, or of patches, in numbers by share.
class BandStatistics {
 public:
  BandStatistics(MeasureKind kind, std::size_t band) : kind_(kind), band_(band) {}

  // Takes in the evaluator's last forward pass. Shares are relative; their sum needs not be 1.
  void add(Evaluator& reference, double share);

  MeasureKind kind() const { return kind_; }
  std::size_t band() const { return band_; }
  std::vector<float> gram() const;
  std::vector<float> mean() const;
  // Rows of activations, in numbers by share; at most kSamples of them.
  std::vector<float> samples() const;
  // Rows of 3 x 3 neighbouring activations, in reading order, in numbers by share; at most kPatches of them.
  std::vector<float> patches() const;

 private:
  static constexpr std::size_t kSamples = 8192;
  static constexpr std::size_t kPatches = 3072;
  struct Part {
    double share;
    std::vector<float> rows;
  };
  std::vector<float> rowsByShare(std::size_t length, std::size_t most) const;

  MeasureKind kind_;
  std::size_t band_;
  std::size_t channels_ = 0;
  double shares_ = 0;
  std::vector<double> gram_;
  std::vector<double> mean_;
  std::vector<Part> parts_;
};

}  // namespace jugendstil
