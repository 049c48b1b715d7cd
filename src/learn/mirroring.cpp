// SPDX-License-Identifier: Apache-2.0
#include "learn/mirroring.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/parallel.h"
#include "network/large_memory.h"

namespace jugendstil {
namespace {

int mirroredAbout(int i, int n) { return i < 0 ? -i : i < n ? i : 2 * (n - 1) - i; }

class Mirroring final : public Operation {
 public:
  Mirroring(const NetLayer& layer, const Layout& source, std::unique_ptr<Operation> convolving)
      : pad_(layer.pad()),
        source_(source),
        padded_(paddedLayout(layer, source)),
        memory_(allocateLarge(padded_.size() * sizeof(float))),
        convolving_(std::move(convolving)) {
    if (pad_ >= std::min(source.width, source.height))
      throw Error(fmt::format("a layer mirrors {} pixels of {}x{}; the picture is too small for it", pad_,
                              source.width, source.height));
  }

  Layout output() const override { return convolving_->output(); }

  void forward(const ForwardPass& pass) override {
    const Buffer padded{memory_.get(), false, padded_};
    parallelFor(padded_.blocks * padded_.height, [&](int r) {
      const int y = mirroredAbout(r % padded_.height - pad_, source_.height);
      const float* from = pass.source.full() + source_.row(r / padded_.height, y);
      float* to = padded.full() + padded_.row(0, r);
      const std::size_t inner = source_.inner;
      std::copy_n(from, source_.rowSize(), to + pad_ * inner);
      for (int x = 0; x < pad_; ++x) {
        const int right = source_.width + x;
        std::copy_n(from + mirroredAbout(x - pad_, source_.width) * inner, inner, to + x * inner);
        std::copy_n(from + mirroredAbout(right, source_.width) * inner, inner, to + (right + pad_) * inner);
      }
    });
    ForwardPass inside = pass;
    inside.source = padded;
    convolving_->forward(inside);
  }

  void backward(const BackwardPass&) override {}

 private:
  int pad_;
  Layout source_;
  Layout padded_;
  LargeMemory memory_;
  std::unique_ptr<Operation> convolving_;
};

}  // namespace

Layout paddedLayout(const NetLayer& layer, const Layout& source) {
  Layout padded = source;
  padded.width += 2 * layer.pad();
  padded.height += 2 * layer.pad();
  return padded;
}

std::unique_ptr<Operation> makeMirroring(const NetLayer& layer, const Layout& source,
                                         std::unique_ptr<Operation> convolving) {
  return std::make_unique<Mirroring>(layer, source, std::move(convolving));
}

}  // namespace jugendstil
