#include "style/measure.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "image/error.h"
#include "image/parallel.h"
#include "style/critic.h"
#include "style/neighbours.h"
#include "style/places.h"
#include "style/units.h"

namespace jugendstil {

namespace {

const std::vector<std::pair<MeasureKind, std::string>> kNames{{MeasureKind::gram, "gram"},
                                                              {MeasureKind::moments, "moments"},
                                                              {MeasureKind::sliced, "sliced"},
                                                              {MeasureKind::neighbours, "neighbours"},
                                                              {MeasureKind::critic, "critic"}};

// Positions spread evenly in reading order; a golden-ratio offset keeps them off any column.
std::vector<int> spreadPositions(std::size_t positions, std::size_t most) {
  const std::size_t count = std::min(positions, most);
  std::vector<int> chosen(count);
  for (std::size_t i = 0; i < count; ++i) {
    const double jitter = std::fmod(static_cast<double>(i) * 0.6180339887, 1.0);
    const double place =
        (static_cast<double>(i) + jitter) * static_cast<double>(positions) / static_cast<double>(count);
    chosen[i] = static_cast<int>(std::min(static_cast<std::size_t>(place), positions - 1));
  }
  return chosen;
}

// Each with the eight around it, those beyond the edge being the nearest ones.
std::vector<int> withNeighbours(const std::vector<int>& centres, const BandShape& shape) {
  std::vector<int> all;
  for (const int centre : centres) {
    for (int dy = -1; dy <= 1; ++dy) {
      for (int dx = -1; dx <= 1; ++dx) {
        const int y = std::clamp(centre / shape.width + dy, 0, shape.height - 1);
        all.push_back(y * shape.width + std::clamp(centre % shape.width + dx, 0, shape.width - 1));
      }
    }
  }
  return all;
}

}  // namespace

MeasureKind measureFromName(const std::string& name) {
  for (const auto& [kind, word] : kNames) {
    if (word == name) return kind;
  }
  throw UsageError(fmt::format("measure is gram, moments, sliced, neighbours or critic, not \"{}\"", name));
}

std::string nameOf(MeasureKind kind) {
  for (const auto& [known, word] : kNames) {
    if (known == kind) return word;
  }
  return {};
}

void BandStatistics::add(Evaluator& reference, double share) {
  const auto accumulate = [&](std::vector<double>& sum, const std::vector<float>& part) {
    sum.resize(part.size(), 0.0);
    for (std::size_t i = 0; i < part.size(); ++i) sum[i] += share * static_cast<double>(part[i]);
  };
  const BandShape shape = reference.shape(band_);
  channels_ = static_cast<std::size_t>(shape.channels);
  shares_ += share;
  accumulate(gram_, reference.gram(band_));
  accumulate(mean_, reference.mean(band_));
  const auto positions = static_cast<std::size_t>(shape.positions());
  if (kind_ == MeasureKind::sliced || kind_ == MeasureKind::critic)
    parts_.push_back({share, reference.gather(band_, spreadPositions(positions, kSamples))});
  if (kind_ == MeasureKind::neighbours) {
    const auto places = withNeighbours(spreadPositions(positions, kPatches), shape);
    parts_.push_back({share, reference.gather(band_, places)});
  }
}

namespace {

std::vector<float> divided(const std::vector<double>& sum, double by) {
  std::vector<float> result(sum.size());
  std::transform(sum.begin(), sum.end(), result.begin(),
                 [by](double v) { return static_cast<float>(v / by); });
  return result;
}

}  // namespace

std::vector<float> BandStatistics::gram() const { return divided(gram_, shares_); }
std::vector<float> BandStatistics::mean() const { return divided(mean_, shares_); }

std::vector<float> BandStatistics::samples() const { return rowsByShare(channels_, kSamples); }
std::vector<float> BandStatistics::patches() const { return rowsByShare(9 * channels_, kPatches); }

std::vector<float> BandStatistics::rowsByShare(std::size_t length, std::size_t most) const {
  std::vector<float> all;
  for (const Part& part : parts_) {
    const std::size_t rows = part.rows.size() / length;
    const auto wanted =
        static_cast<std::size_t>(std::lround(static_cast<double>(most) * part.share / shares_));
    const std::size_t take = std::max<std::size_t>(1, parts_.size() == 1 ? rows : wanted);
    for (std::size_t i = 0; i < take; ++i) {
      const std::size_t row = i * rows / take;
      all.insert(all.end(), part.rows.begin() + static_cast<std::ptrdiff_t>(row * length),
                 part.rows.begin() + static_cast<std::ptrdiff_t>((row + 1) * length));
    }
  }
  return all;
}

namespace {

// Where in the picture a band is looked at.
class Region {
 public:
  Region(std::size_t band, std::vector<float> weights) : band_(band), weights_(std::move(weights)) {
    for (const float w : weights_) total_ += static_cast<double>(w);
  }

  bool everywhere() const { return weights_.empty(); }
  std::span<const float> weights() const { return weights_; }
  double positions(const Evaluator& picture) const {
    return everywhere() ? picture.shape(band_).positions() : total_;
  }

  // References hold until the evaluator's next pass, or this region's next look.
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
  Evaluator::Moments own_;
};

// |G - T|^2 / |T|^2 with G = u u^T / P, where u are the activations with the references' means taken off and
// each channel divided by the references' deviation. Taken off, because a plain Gram matrix is ruled by its
// means: two pictures of one average but different strokes differ in it by a per cent.
class GramMeasure final : public Measure {
 public:
  GramMeasure(const BandStatistics& target, Region region)
      : region_(std::move(region)), mean_(target.mean()), target_(target.gram()) {
    const std::size_t n = mean_.size();
    unit_ = channelUnits(target_, mean_);
    for (std::size_t i = 0; i < n; ++i) centreRow(&target_[i * n], mean_, i, &target_[i * n]);
    for (const float v : target_) norm_ += static_cast<double>(v) * v;
    norm_ = std::max(norm_, 1e-12);
  }

  double value(Evaluator& picture, std::uint64_t) override {
    const std::size_t n = mean_.size();
    region_.look(picture);
    const std::vector<float>& gram = region_.gram(picture);
    const std::vector<float>& mean = region_.mean(picture);
    positions_ = region_.positions(picture);
    difference_.resize(target_.size());
    std::vector<float> rows(n);
    parallelFor(static_cast<int>(n), [&](int row) {
      const auto i = static_cast<std::size_t>(row);
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
    for (const float r : rows) sum += static_cast<double>(r);
    return sum / norm_;
  }

  void addGradient(double weight, BandGradient& gradient) override {
    const std::size_t n = mean_.size();
    const auto scale = static_cast<float>(weight * 4.0 / (norm_ * positions_));
    parallelFor(static_cast<int>(n), [&](int row) {
      const auto i = static_cast<std::size_t>(row);
      for (std::size_t j = 0; j < n; ++j) difference_[i * n + j] *= scale * unit_[i] * unit_[j];
    });
    gradient.addLinear(difference_, mean_, std::vector<float>(n, 0.0F), region_.weights());
  }

 private:
  // Row i of the second moments about the references' means, in units of their deviations.
  void centreRow(const float* gram, const std::vector<float>& mean, std::size_t i, float* out) const {
    for (std::size_t j = 0; j < mean.size(); ++j) {
      out[j] =
          (gram[j] - mean_[i] * mean[j] - mean[i] * mean_[j] + mean_[i] * mean_[j]) * unit_[i] * unit_[j];
    }
  }

  Region region_;
  std::vector<float> mean_;
  std::vector<float> unit_;
  std::vector<float> target_;
  std::vector<float> difference_;
  double norm_ = 0;
  double positions_ = 1;
};

// Sum over channels of (mean - mean_s)^2 + (deviation - deviation_s)^2, divided by the references' sum of
// mean^2 + deviation^2.
class MomentsMeasure final : public Measure {
 public:
  MomentsMeasure(const BandStatistics& target, Region region)
      : region_(std::move(region)), mean_(target.mean()) {
    deviation_ = deviations(target.gram(), mean_);
    for (std::size_t c = 0; c < mean_.size(); ++c) {
      norm_ += static_cast<double>(mean_[c]) * mean_[c] + static_cast<double>(deviation_[c]) * deviation_[c];
    }
    norm_ = std::max(norm_, 1e-12);
  }

  double value(Evaluator& picture, std::uint64_t) override {
    region_.look(picture);
    currentMean_ = region_.mean(picture);
    currentDeviation_ = deviations(region_.gram(picture), currentMean_);
    positions_ = region_.positions(picture);
    double sum = 0;
    for (std::size_t c = 0; c < mean_.size(); ++c) {
      const double m = currentMean_[c] - mean_[c];
      const double d = currentDeviation_[c] - deviation_[c];
      sum += m * m + d * d;
    }
    return sum / norm_;
  }

  // d mean/da = 1/P and d deviation/da = (a - mean)/(P deviation): an affine map of each channel.
  void addGradient(double weight, BandGradient& gradient) override {
    const std::size_t channels = mean_.size();
    std::vector<float> matrix(channels * channels, 0.0F);
    std::vector<float> offset(channels);
    const double scale = weight * 2.0 / (norm_ * positions_);
    for (std::size_t c = 0; c < channels; ++c) {
      const double slope = scale * (currentDeviation_[c] - deviation_[c]) / currentDeviation_[c];
      matrix[c * channels + c] = static_cast<float>(slope);
      offset[c] = static_cast<float>(scale * (currentMean_[c] - mean_[c]));
    }
    gradient.addLinear(matrix, currentMean_, offset, region_.weights());
  }

 private:
  static std::vector<float> deviations(const std::vector<float>& gram, const std::vector<float>& mean) {
    std::vector<float> result(mean.size());
    for (std::size_t c = 0; c < mean.size(); ++c) {
      result[c] = std::sqrt(std::max(gram[c * mean.size() + c] - mean[c] * mean[c], 1e-8F));
    }
    return result;
  }

  Region region_;
  std::vector<float> mean_;
  std::vector<float> deviation_;
  std::vector<float> currentMean_;
  std::vector<float> currentDeviation_;
  double norm_ = 0;
  double positions_ = 1;
};

// Mean over directions of the squared 1-D Wasserstein distance, divided by the references' mean square
// along a direction.
class SlicedMeasure final : public Measure {
 public:
  SlicedMeasure(const BandStatistics& target, std::uint64_t seed, const std::vector<float>& weights)
      : band_(target.band()),
        seed_(seed),
        chosen_(heavyPlaces(weights)),
        pool_(target.samples(), target.mean().size(), kPool, seed) {
    const std::size_t channels = pool_.dimension();
    const auto gram = target.gram();
    for (std::size_t c = 0; c < channels; ++c)
      norm_ += static_cast<double>(gram[c * channels + c]) / static_cast<double>(channels);
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
    parallelFor(static_cast<int>(drawn.size()), [&](int i) {
      const auto k = static_cast<std::size_t>(i);
      distance[k] = residual({&residuals_[k * positions], positions}, pool_.quantiles(drawn[k]));
    });
    double sum = 0;
    for (const double d : distance) sum += d;
    count_ = drawn.size();
    moved_ = chosen_.empty() ? positions : chosen_.size();
    return sum / (norm_ * static_cast<double>(count_));
  }

  void addGradient(double weight, BandGradient& gradient) override {
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

std::unique_ptr<Measure> makeMeasure(const BandStatistics& target, std::uint64_t seed,
                                     std::vector<float> weights) {
  switch (target.kind()) {
    case MeasureKind::gram:
      return std::make_unique<GramMeasure>(target, Region(target.band(), std::move(weights)));
    case MeasureKind::moments:
      return std::make_unique<MomentsMeasure>(target, Region(target.band(), std::move(weights)));
    case MeasureKind::sliced:
      return std::make_unique<SlicedMeasure>(target, seed + target.band(), weights);
    case MeasureKind::neighbours:
      return makeNeighbours(target, weights);
    case MeasureKind::critic:
      return makeCritic(target, seed + target.band(), weights);
  }
  return nullptr;
}

}  // namespace jugendstil
