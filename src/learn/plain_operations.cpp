// SPDX-License-Identifier: Apache-2.0
#include "learn/plain_operations.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "base/parallel.h"

namespace jugendstil {
namespace {

// A new value lies a quarter of a step from one old one and three quarters from the next.
constexpr float kNear = 0.75F;
constexpr float kFar = 0.25F;

JUGENDSTIL_VECTORISED
void blendRows(const float* near, const float* far, float* out, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) out[i] = kNear * near[i] + kFar * far[i];
}

JUGENDSTIL_VECTORISED
void enlargeRow(const float* from, float* to, int columns, std::size_t inner) {
  for (int x = 0; x < columns; ++x) {
    const float* here = from + x * inner;
    const float* left = x > 0 ? here - inner : here;
    const float* right = x + 1 < columns ? here + inner : here;
    float* first = to + 2 * inner * x;
    for (std::size_t i = 0; i < inner; ++i) {
      first[i] = kNear * here[i] + kFar * left[i];
      first[inner + i] = kNear * here[i] + kFar * right[i];
    }
  }
}

// The transposes of both.
JUGENDSTIL_VECTORISED
void gatherRows(const std::array<const float*, 4>& rows, float* out, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i)
    out[i] = kFar * (rows[0][i] + rows[3][i]) + kNear * (rows[1][i] + rows[2][i]);
}

JUGENDSTIL_VECTORISED
void reduceRow(const float* from, float* to, int columns, std::size_t inner) {
  for (int x = 0; x < columns; ++x) {
    const float* first = from + 2 * inner * x;
    const float* second = first + inner;
    const float* before = x > 0 ? first - inner : first;
    const float* after = x + 1 < columns ? second + inner : second;
    for (std::size_t i = 0; i < inner; ++i)
      to[x * inner + i] = kFar * (before[i] + after[i]) + kNear * (first[i] + second[i]);
  }
}

class Enlarging final : public Operation {
 public:
  Enlarging(const Layout& source, const Layout& target) : source_(source), target_(target) {}

  Layout output() const override { return target_; }

  void forward(const ForwardPass& pass) override {
    parallelFor(target_.blocks * target_.height, [&](int r) {
      const int block = r / target_.height;
      const int y = r % target_.height / 2;
      const int beside = std::clamp(r % 2 == 0 ? y - 1 : y + 1, 0, source_.height - 1);
      std::vector<float> blended(source_.rowSize());
      blendRows(pass.source.full() + source_.row(block, y), pass.source.full() + source_.row(block, beside),
                blended.data(), blended.size());
      enlargeRow(blended.data(), pass.target.full() + target_.row(0, r), source_.width, source_.inner);
    });
  }

  void backward(const BackwardPass& pass) override {
    if (pass.sourceGradient.data == nullptr) return;
    parallelFor(source_.blocks * source_.height, [&](int r) {
      const int block = r / source_.height;
      const int first = 2 * (r % source_.height);
      const auto row = [&](int y) {
        return pass.gradient.full() + target_.row(block, std::clamp(y, 0, target_.height - 1));
      };
      std::vector<float> gathered(target_.rowSize());
      gatherRows({row(first - 1), row(first), row(first + 1), row(first + 2)}, gathered.data(),
                 gathered.size());
      reduceRow(gathered.data(), pass.sourceGradient.full() + source_.row(0, r), source_.width,
                source_.inner);
    });
  }

 private:
  Layout source_;
  Layout target_;
};

// Each value four times, or once and three zeros.
class Spreading final : public Operation {
 public:
  Spreading(const Layout& source, const Layout& target, bool zeros)
      : source_(source), target_(target), zeros_(zeros) {}

  Layout output() const override { return target_; }

  void forward(const ForwardPass& pass) override {
    parallelFor(target_.blocks * target_.height, [&](int r) {
      const float* from = pass.source.full() + source_.row(r / target_.height, r % target_.height / 2);
      float* to = pass.target.full() + target_.row(0, r);
      const std::size_t inner = source_.inner;
      for (int x = 0; x < target_.width; ++x) {
        if (zeros_ && (x % 2 == 1 || r % target_.height % 2 == 1))
          std::fill_n(to + x * inner, inner, 0.0F);
        else
          std::copy_n(from + x / 2 * inner, inner, to + x * inner);
      }
    });
  }

  void backward(const BackwardPass&) override {}

 private:
  Layout source_;
  Layout target_;
  bool zeros_;
};

class Bounding final : public Operation {
 public:
  explicit Bounding(const Layout& layout) : layout_(layout) {}

  Layout output() const override { return layout_; }

  void forward(const ForwardPass& pass) override {
    parallelFor(layout_.blocks * layout_.height, [&](int r) {
      const std::size_t at = layout_.row(0, r);
      for (std::size_t i = at; i < at + layout_.rowSize(); ++i)
        pass.target.full()[i] = std::tanh(pass.source.full()[i]);
    });
  }

  void backward(const BackwardPass&) override {}

 private:
  Layout layout_;
};

class Adding final : public Operation {
 public:
  Adding(const NetLayer& layer, const Layout& layout) : layer_(layer), layout_(layout) {}

  Layout output() const override { return layout_; }

  void forward(const ForwardPass& pass) override {
    parallelFor(layout_.blocks * layout_.height, [&](int r) {
      const std::size_t at = layout_.row(0, r);
      const float* a = pass.source.full() + at;
      const float* b = pass.also.full() + at;
      float* to = pass.target.full() + at;
      for (std::size_t i = 0; i < layout_.rowSize(); ++i) to[i] = a[i] + b[i];
      if (layer_.rectified)
        std::transform(to, to + layout_.rowSize(), to, [](float v) { return std::max(v, 0.0F); });
    });
  }

  void backward(const BackwardPass&) override {}

 private:
  NetLayer layer_;
  Layout layout_;
};

}  // namespace

std::unique_ptr<Operation> makeEnlarging(const NetLayer& layer, const Layout& source, const Layout& target) {
  if (layer.between == NetLayer::Between::linear) return std::make_unique<Enlarging>(source, target);
  return std::make_unique<Spreading>(source, target, layer.between == NetLayer::Between::zeros);
}

std::unique_ptr<Operation> makeAdding(const NetLayer& layer, const Layout& layout) {
  return std::make_unique<Adding>(layer, layout);
}

std::unique_ptr<Operation> makeBounding(const Layout& layout) { return std::make_unique<Bounding>(layout); }

}  // namespace jugendstil
