// SPDX-License-Identifier: Apache-2.0
#include "style/neighbours.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/number.h"
#include "base/parallel.h"
#include "network/product.h"
#include "style/places.h"

namespace jugendstil {
namespace {

constexpr int kSide = 3;
constexpr std::size_t kPlaces = std::size_t{kSide} * kSide;
// Matches change slowly; they are looked for again after so many steps.
constexpr std::uint64_t kRefresh = 10;
// Patches are looked for at every second place each way: they overlap, so every position has some.
constexpr int kSpacing = 2;
constexpr std::size_t kAtOnce = 256;

class NeighboursMeasure final : public Measure {
 public:
  NeighboursMeasure(const BandStatistics& target, std::span<const float> weights)
      : band_(target.band()), mean_(target.mean()), patches_(target.patches()), chosen_(weights.size(), 0) {
    const std::size_t channels = mean_.size();
    const auto gram = target.gram();
    for (std::size_t c = 0; c < channels; ++c)
      norm_ += 2 * static_cast<double>(gram[c * channels + c] - mean_[c] * mean_[c]);
    norm_ = std::max(norm_, 1e-12);
    unit_ = patches_;
    const std::size_t length = channels * kPlaces;
    for (std::size_t i = 0; i < unit_.size(); i += length) {
      double sum = 0;
      for (std::size_t k = 0; k < length; ++k) {
        unit_[i + k] -= mean_[k % channels];
        sum += static_cast<double>(unit_[i + k]) * unit_[i + k];
      }
      const auto scale = static_cast<float>(1 / std::sqrt(sum + 1e-12));
      for (std::size_t k = 0; k < length; ++k) unit_[i + k] *= scale;
    }
    for (const std::size_t p : heavyPlaces(weights)) chosen_[p] = 1;
  }

  double value(Evaluator& picture, std::uint64_t step) override {
    shape_ = picture.shape(band_);
    values_ = picture.activations(band_);
    const bool again = step != step_ && (step % kRefresh == 0 || step != step_ + 1);
    if (count_.empty() || again) match(step / kRefresh);
    step_ = step;
    const std::size_t channels = mean_.size();
    std::vector<double> sums(shape_.height);
    parallelFor(shape_.height, [&](int y) {
      double sum = 0;
      const std::size_t width = shape_.width;
      for (std::size_t p = y * width; p < (y + 1) * width; ++p) {
        float* x = &values_[p * channels];
        const float* wanted = &wanted_[p * channels];
        float own = 0;
        for (std::size_t c = 0; c < channels; ++c) {
          // |x - s|^2 summed over all the patches that a position is part of; x becomes half its slope.
          own += x[c] * (count_[p] * x[c] - 2 * wanted[c]);
          x[c] = count_[p] * x[c] - wanted[c];
        }
        sum += own + squares_[p];
      }
      sums[y] = sum;
    });
    double sum = 0;
    for (const double s : sums) sum += s;
    return sum / (norm_ * pairs_);
  }

  void addGradient(double weight, BandGradient& gradient) const override {
    const auto scale = static_cast<float>(2 * weight / (norm_ * pairs_));
    std::vector<float> moved(values_);
    for (float& v : moved) v *= scale;
    gradient.addAt(positions_, moved);
  }

  void exchange(StateExchange& with) override {
    with.value(step_);
    with.value(pairs_);
    with.values(count_);
    with.values(squares_);
    with.values(wanted_);
    with.values(positions_);
  }

 private:
  int position(int x, int y) const {
    return std::clamp(y, 0, shape_.height - 1) * shape_.width + std::clamp(x, 0, shape_.width - 1);
  }

  std::array<int, kPlaces> patchAt(int x, int y) const {
    std::array<int, kPlaces> places{};
    for (int k = 0; k < static_cast<int>(kPlaces); ++k)
      places[k] = position(x + k % kSide - 1, y + k / kSide - 1);
    return places;
  }

  bool counts(int p) const { return chosen_.empty() || chosen_[p] != 0; }

  // Finds a match for each patch and adds up what each position is drawn to.
  void match(std::uint64_t turn) {
    const std::size_t channels = mean_.size();
    const std::size_t all = shape_.positions();
    count_.assign(all, 0.0F);
    squares_.assign(all, 0.0F);
    wanted_.assign(all * channels, 0.0F);
    positions_.resize(all);
    for (std::size_t p = 0; p < all; ++p) positions_[p] = static_cast<int>(p);
    pairs_ = 0;
    std::vector<std::array<int, kPlaces>> queries;
    const auto shift = static_cast<int>(turn % 4);
    for (int y = shift / 2; y < shape_.height; y += kSpacing) {
      for (int x = shift % 2; x < shape_.width; x += kSpacing) {
        if (counts(position(x, y))) queries.push_back(patchAt(x, y));
      }
    }
    for (std::size_t begin = 0; begin < queries.size(); begin += kAtOnce)
      matchSome({queries.data() + begin, std::min(kAtOnce, queries.size() - begin)});
    pairs_ = std::max(pairs_, 1.0);
  }

  void matchSome(std::span<const std::array<int, kPlaces>> queries) {
    const std::size_t channels = mean_.size();
    const std::size_t length = channels * kPlaces;
    std::vector<float> rows(queries.size() * length);
    parallelFor(queries.size(), [&](std::size_t i) {
      float* row = &rows[i * length];
      for (const int p : queries[i]) {
        const float* x = &values_[p * channels];
        for (std::size_t c = 0; c < channels; ++c) *row++ = x[c] - mean_[c];
      }
    });
    const std::size_t known = unit_.size() / length;
    std::vector<float> scores(queries.size() * known);
    productWithTransposed(rows, unit_, length, scores);
    for (std::size_t i = 0; i < queries.size(); ++i) {
      const auto begin = scores.begin() + i * known;
      const auto best = std::max_element(begin, begin + known);
      draw(queries[i], best - begin);
    }
  }

  void draw(const std::array<int, kPlaces>& places, std::size_t patch) {
    const std::size_t channels = mean_.size();
    const float* s = &patches_[patch * channels * kPlaces];
    for (const int p : places) {
      if (counts(p)) {
        float square = 0;
        float* wanted = &wanted_[p * channels];
        for (std::size_t c = 0; c < channels; ++c) {
          wanted[c] += s[c];
          square += s[c] * s[c];
        }
        squares_[p] += square;
        count_[p] += 1;
        pairs_ += 1;
      }
      s += channels;
    }
  }

  std::size_t band_;
  std::vector<float> mean_;
  std::vector<float> patches_;  // n x 9 x C
  std::vector<float> unit_;     // the same about the mean, of length 1
  std::vector<char> chosen_;    // 1 where a position is looked at; empty: everywhere
  double norm_ = 0;
  BandShape shape_;
  std::uint64_t step_ = 0;
  std::vector<float> values_;  // of the last look; half the slope after it
  std::vector<int> positions_;
  // Of each position: the patches it is part of, and the sums of what their matches have there.
  std::vector<float> count_;
  std::vector<float> wanted_;
  std::vector<float> squares_;
  double pairs_ = 1;
};

}  // namespace

std::unique_ptr<Measure> makeNeighbours(const BandStatistics& target, std::span<const float> weights) {
  return std::make_unique<NeighboursMeasure>(target, weights);
}

}  // namespace jugendstil
