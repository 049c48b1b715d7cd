// SPDX-License-Identifier: Apache-2.0
#include "style/band_statistics.h"

#include <algorithm>
#include <cmath>

namespace jugendstil {
namespace {

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

void BandStatistics::add(Evaluator& reference, double share) {
  const auto accumulate = [&](std::vector<double>& sum, const std::vector<float>& part) {
    sum.resize(part.size(), 0.0);
    for (std::size_t i = 0; i < part.size(); ++i) sum[i] += share * part[i];
  };
  const BandShape shape = reference.shape(band_);
  channels_ = shape.channels;
  shares_ += share;
  accumulate(gram_, reference.gram(band_));
  accumulate(mean_, reference.mean(band_));
  const std::size_t positions = shape.positions();
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
    const std::size_t wanted = std::lround(static_cast<double>(most) * part.share / shares_);
    const std::size_t take = std::max<std::size_t>(1, parts_.size() == 1 ? rows : wanted);
    for (std::size_t i = 0; i < take; ++i) {
      const std::size_t row = i * rows / take;
      all.insert(all.end(), part.rows.begin() + row * length, part.rows.begin() + (row + 1) * length);
    }
  }
  return all;
}

}  // namespace jugendstil
