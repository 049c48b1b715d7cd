// SPDX-License-Identifier: Apache-2.0
#include "learn/normalising.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "base/parallel.h"

namespace jugendstil {
namespace {

// Rows are gone through by so many channels, which stay in registers.
constexpr std::size_t kGroup = 16;

[[gnu::always_inline]] inline void sumGroup(const float* a, const float* b, float* sums, float* products,
                                            std::size_t values, std::size_t inner, std::size_t count) {
  float sum[kGroup] = {};
  float product[kGroup] = {};
  for (std::size_t x = 0; x < values; x += inner) {
    for (std::size_t i = 0; i < count; ++i) {
      sum[i] += a[x + i];
      product[i] += a[x + i] * b[x + i];
    }
  }
  std::copy_n(sum, count, sums);
  std::copy_n(product, count, products);
}

// Sums over a row of a, and of a times b, for each channel of a block.
JUGENDSTIL_VECTORISED
void sumRow(const float* a, const float* b, float* sums, float* products, std::size_t columns,
            std::size_t inner) {
  for (std::size_t k = 0; k < inner; k += kGroup) {
    // A count that the compiler knows stays in registers.
    if (inner - k >= kGroup)
      sumGroup(a + k, b + k, sums + k, products + k, columns * inner, inner, kGroup);
    else
      sumGroup(a + k, b + k, sums + k, products + k, columns * inner, inner, inner - k);
  }
}

// out = scale * a + shift, by channel.
JUGENDSTIL_VECTORISED
void scaleRow(const float* a, float* out, const float* scale, const float* shift, bool rectified,
              std::size_t columns, std::size_t inner) {
  const float least = rectified ? 0.0F : -std::numeric_limits<float>::infinity();
  for (std::size_t x = 0; x < columns * inner; x += inner) {
#pragma omp simd
    for (std::size_t i = 0; i < inner; ++i) {
      const float v = scale[i] * a[x + i] + shift[i];
      out[x + i] = v > least ? v : least;
    }
  }
}

// out = ofGradient * gradient + ofSource * a + shift, by channel.
JUGENDSTIL_VECTORISED
void pullBackRow(const float* gradient, const float* a, float* out, const float* ofGradient,
                 const float* ofSource, const float* shift, std::size_t columns, std::size_t inner) {
  for (std::size_t x = 0; x < columns * inner; x += inner) {
#pragma omp simd
    for (std::size_t i = 0; i < inner; ++i)
      out[x + i] = ofGradient[i] * gradient[x + i] + ofSource[i] * a[x + i] + shift[i];
  }
}

// Of each channel, over all positions.
struct Sums {
  std::vector<double> of;
  std::vector<double> products;
};

class Normalising final : public Operation {
 public:
  Normalising(const NetLayer& layer, const Layout& layout)
      : layer_(layer), layout_(layout), padded_(cellCount(layout.blocks, layout.inner)) {}

  Layout output() const override { return layout_; }

  void forward(const ForwardPass& pass) override {
    const bool scales = layer_.kind == NetLayer::Kind::scaling;
    if (!scales && !pass.momentsGiven) measure(pass);
    std::vector<float> scale(padded_);
    std::vector<float> shift(padded_);
    for (int c = 0; c < layout_.channels; ++c) {
      scale[c] = pass.parameters[c] * (scales ? 1.0F : steepness(pass.moments, c));
      shift[c] = pass.parameters[layout_.channels + c] - (scales ? 0.0F : scale[c] * pass.moments[c]);
    }
    eachRow([&](std::size_t at, std::size_t channel) {
      scaleRow(pass.source.full() + at, pass.target.full() + at, &scale[channel], &shift[channel],
               layer_.rectified, layout_.width, layout_.inner);
    });
  }

  void backward(const BackwardPass& pass) override {
    if (layer_.rectified) maskByRelu(pass.gradient, nullptr, pass.target);
    const Sums sums = summed(pass.gradient.full(), pass.source.full());
    std::vector<float> ofGradient(padded_);
    std::vector<float> ofSource(padded_);
    std::vector<float> shift(padded_);
    const double positions = static_cast<double>(layout_.width) * layout_.height;
    for (int c = 0; c < layout_.channels; ++c) {
      const double steep = steepness(pass.moments, c);
      const double mean = pass.moments[c];
      // Of the gradient times the normalised value.
      const double along = steep * (sums.products[c] - mean * sums.of[c]);
      pass.parameterGradient[c] += static_cast<float>(along);
      pass.parameterGradient[layout_.channels + c] += static_cast<float>(sums.of[c]);
      const double gain = pass.parameters[c] * steep;
      const double source = -gain * steep * along / positions;
      ofGradient[c] = static_cast<float>(gain);
      ofSource[c] = static_cast<float>(source);
      shift[c] = static_cast<float>(-gain * sums.of[c] / positions - source * mean);
    }
    if (pass.sourceGradient.data == nullptr) return;
    eachRow([&](std::size_t at, std::size_t channel) {
      pullBackRow(pass.gradient.full() + at, pass.source.full() + at, pass.sourceGradient.full() + at,
                  &ofGradient[channel], &ofSource[channel], &shift[channel], layout_.width, layout_.inner);
    });
  }

 private:
  float steepness(std::span<const float> moments, int channel) const {
    return static_cast<float>(1 / std::sqrt(moments[layout_.channels + channel] + double{layer_.floor}));
  }

  // Calls f(first value, first channel) for each row of each block.
  template <typename F>
  void eachRow(const F& f) const {
    parallelFor(layout_.blocks * layout_.height,
                [&](int r) { f(layout_.row(0, r), cellCount(r / layout_.height, layout_.inner)); });
  }

  // By rows, added in their order, so that it does not hang on the number of threads.
  Sums summed(const float* a, const float* b) const {
    const std::size_t inner = layout_.inner;
    std::vector<float> rows(cellCount(layout_.blocks, layout_.height) * 2 * inner);
    parallelFor(layout_.blocks * layout_.height, [&](int r) {
      const std::size_t at = layout_.row(0, r);
      float* to = &rows[2 * inner * r];
      sumRow(a + at, b + at, to, to + inner, layout_.width, inner);
    });
    Sums sums{std::vector<double>(padded_), std::vector<double>(padded_)};
    for (int block = 0; block < layout_.blocks; ++block) {
      for (int y = 0; y < layout_.height; ++y) {
        const float* from = &rows[cellAt(y, block, layout_.height) * 2 * inner];
        for (std::size_t i = 0; i < inner; ++i) {
          sums.of[block * inner + i] += from[i];
          sums.products[block * inner + i] += from[inner + i];
        }
      }
    }
    return sums;
  }

  void measure(const ForwardPass& pass) const {
    const Sums sums = summed(pass.source.full(), pass.source.full());
    const double positions = static_cast<double>(layout_.width) * layout_.height;
    for (int c = 0; c < layout_.channels; ++c) {
      const double mean = sums.of[c] / positions;
      pass.moments[c] = static_cast<float>(mean);
      pass.moments[layout_.channels + c] =
          static_cast<float>(std::max(0.0, sums.products[c] / positions - mean * mean));
    }
  }

  NetLayer layer_;
  Layout layout_;
  std::size_t padded_;
};

}  // namespace

std::unique_ptr<Operation> makeNormalising(const NetLayer& layer, const Layout& layout) {
  return std::make_unique<Normalising>(layer, layout);
}

}  // namespace jugendstil
