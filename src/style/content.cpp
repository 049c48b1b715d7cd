// SPDX-License-Identifier: Apache-2.0
#include "style/content.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"
#include "network/product.h"

namespace jugendstil {

ContentKind contentFromName(const std::string& name) {
  if (name == "structure") return ContentKind::structure;
  if (name == "features") return ContentKind::features;
  throw UsageError(fmt::format("content is structure or features, not \"{}\"", name));
}

std::string nameOf(ContentKind kind) { return kind == ContentKind::structure ? "structure" : "features"; }

namespace {

constexpr int kPositions = 700;

// About n positions, one at a random place of each cell of an even grid.
std::vector<int> scatter(int height, int width, int n, std::uint64_t seed) {
  std::vector<int> chosen;
  if (height * width <= n) {
    chosen.resize(cellCount(height, width));
    for (std::size_t i = 0; i < chosen.size(); ++i) chosen[i] = static_cast<int>(i);
    return chosen;
  }
  std::mt19937_64 random(seed);
  std::uniform_real_distribution<double> unit;
  const int rows = std::clamp(rounded(std::sqrt(1.0 * n * height / width)), 1, height);
  const int columns = std::clamp(n / rows, 1, width);
  for (int r = 0; r < rows; ++r) {
    for (int c = 0; c < columns; ++c) {
      const int y = std::min(height - 1, static_cast<int>((r + unit(random)) * height / rows));
      const int x = std::min(width - 1, static_cast<int>((c + unit(random)) * width / columns));
      chosen.push_back(y * width + x);
    }
  }
  return chosen;
}

// a + a^T, n x n, in tiles that fit the nearest cache.
std::vector<float> plusTransposed(const std::vector<float>& a, std::size_t n) {
  constexpr std::size_t kTile = 32;
  std::vector<float> to(n * n);
  parallelFor((n + kTile - 1) / kTile, [&](std::size_t tile) {
    const std::size_t top = tile * kTile;
    const std::size_t bottom = std::min(n, top + kTile);
    for (std::size_t left = 0; left < n; left += kTile) {
      const std::size_t right = std::min(n, left + kTile);
      for (std::size_t i = top; i < bottom; ++i) {
        for (std::size_t j = left; j < right; ++j) to[i * n + j] = a[i * n + j] + a[j * n + i];
      }
    }
  });
  return to;
}

// The matrix of cosine distances between the band's vectors (mean removed) at n positions, each column
// divided by its sum; compared with the photo's by the mean over columns of the L1 distance.
class StructureContent final : public Content {
 public:
  StructureContent(Evaluator& photo, std::size_t band, std::uint64_t seed, const std::vector<float>& weights)
      : band_(band) {
    const BandShape shape = photo.shape(band);
    channels_ = shape.channels;
    positions_ = scatter(shape.height, shape.width, kPositions, seed);
    for (const int p : positions_) weights_.push_back(weights.empty() ? 1.0F : weights[p]);
    compare(photo);
    target_ = distances_;
  }

  double value(Evaluator& picture) override {
    compare(picture);
    const std::size_t n = positions_.size();
    std::vector<double> rows(n);
    parallelFor(n, [&](std::size_t i) {
      const std::size_t at = i * n;
      float sum = 0;
#pragma omp simd reduction(+ : sum)
      for (std::size_t j = 0; j < n; ++j) sum += std::fabs(distances_[at + j] - target_[at + j]);
      rows[i] = weights_[i] * sum;
    });
    double total = 0;
    for (const double r : rows) total += r;
    return total / static_cast<double>(n);
  }

  void addGradient(double weight, BandGradient& gradient) const override {
    const std::size_t n = positions_.size();
    // The distance matrix before division is symmetric, so rows serve as columns throughout.
    // d/dS of S/sum(S): (g - <g, D>) / sum.
    std::vector<float> slope(n * n);
    parallelFor(n, [&](std::size_t row) {
      const std::size_t at = row * n;
      const auto unit = static_cast<float>(weight / static_cast<double>(n)) * weights_[row];
      float inner = 0;
#pragma omp simd reduction(+ : inner)
      for (std::size_t j = 0; j < n; ++j) {
        const float difference = distances_[at + j] - target_[at + j];
        slope[at + j] = difference > 0 ? unit : (difference < 0 ? -unit : 0.0F);
        inner += slope[at + j] * distances_[at + j];
      }
      const float scale = 1.0F / sums_[row];
      for (std::size_t j = 0; j < n; ++j) slope[at + j] = (inner - slope[at + j]) * scale;
    });
    const std::vector<float> both = plusTransposed(slope, n);
    // Cosines are F F^T: the gradient is (A + A^T) F.
    std::vector<float> moved(n * channels_);
    product(both, unitRows_, n, moved);
    throughNormalisation(moved);
    gradient.addAt(positions_, moved);
  }

 private:
  void compare(Evaluator& picture) {
    const std::size_t n = positions_.size();
    unitRows_ = picture.gather(band_, positions_);
    removeMean(unitRows_);
    lengths_.resize(n);
    for (std::size_t i = 0; i < n; ++i) {
      float* row = &unitRows_[i * channels_];
      float square = 0;
      for (std::size_t c = 0; c < channels_; ++c) square += row[c] * row[c];
      lengths_[i] = std::sqrt(std::max(square, 1e-12F));
      for (std::size_t c = 0; c < channels_; ++c) row[c] /= lengths_[i];
    }
    distances_.resize(n * n);
    productWithTransposed(unitRows_, unitRows_, channels_, distances_);
    sums_.resize(n);
    parallelFor(n, [&](std::size_t row) {
      const std::size_t at = row * n;
      float sum = 0;
#pragma omp simd reduction(+ : sum)
      for (std::size_t j = 0; j < n; ++j) {
        distances_[at + j] = 1.0F - distances_[at + j];
        sum += distances_[at + j];
      }
      sum = std::max(sum, 1e-6F);
      sums_[row] = sum;
      const float scale = 1.0F / sum;
      for (std::size_t j = 0; j < n; ++j) distances_[at + j] *= scale;
    });
  }

  void removeMean(std::vector<float>& rows) const {
    const std::size_t n = positions_.size();
    std::vector<float> mean(channels_, 0.0F);
    for (std::size_t i = 0; i < n; ++i) {
      for (std::size_t c = 0; c < channels_; ++c) mean[c] += rows[i * channels_ + c];
    }
    for (std::size_t i = 0; i < n; ++i) {
      for (std::size_t c = 0; c < channels_; ++c) rows[i * channels_ + c] -= mean[c] / static_cast<float>(n);
    }
  }

  // From the gradient of unit vectors to that of the vectors, and through the removal of the mean.
  void throughNormalisation(std::vector<float>& g) const {
    for (std::size_t i = 0; i < positions_.size(); ++i) {
      float* row = &g[i * channels_];
      const float* u = &unitRows_[i * channels_];
      float along = 0;
      for (std::size_t c = 0; c < channels_; ++c) along += row[c] * u[c];
      for (std::size_t c = 0; c < channels_; ++c) row[c] = (row[c] - along * u[c]) / lengths_[i];
    }
    removeMean(g);
  }

  std::size_t band_;
  std::size_t channels_ = 0;
  std::vector<int> positions_;
  std::vector<float> weights_;  // of each
  std::vector<float> target_;
  std::vector<float> unitRows_;
  std::vector<float> lengths_;
  std::vector<float> distances_;
  std::vector<float> sums_;
};

// |a - p|^2 / |p|^2, the differences by their positions' weights.
class FeaturesContent final : public Content {
 public:
  FeaturesContent(Evaluator& photo, std::size_t band, std::vector<float> weights)
      : band_(band), target_(photo.keep(band)) {
    target_.weights = std::move(weights);
    for (const float v : photo.activations(band)) norm_ += 1.0 * v * v;
    norm_ = std::max(norm_, 1e-12);
  }

  double value(Evaluator& picture) override { return picture.squaredDistance(band_, target_) / norm_; }

  void addGradient(double weight, BandGradient& gradient) const override {
    gradient.addDifference(target_, static_cast<float>(2.0 * weight / norm_));
  }

 private:
  std::size_t band_;
  KeptActivation target_;
  double norm_ = 0;
};

}  // namespace

std::unique_ptr<Content> makeContent(ContentKind kind, Evaluator& photo, std::size_t band, std::uint64_t seed,
                                     std::vector<float> weights) {
  if (kind == ContentKind::features)
    return std::make_unique<FeaturesContent>(photo, band, std::move(weights));
  return std::make_unique<StructureContent>(photo, band, seed, weights);
}

}  // namespace jugendstil
