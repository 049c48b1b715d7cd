// SPDX-License-Identifier: Apache-2.0
#include "learn/net_pass.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"
#include "learn/blocked_layout.h"
#include "learn/make_operation.h"
#include "network/large_memory.h"

namespace jugendstil {
namespace {

Buffer bufferOver(void* data, const Layout& layout) { return {data, false, layout}; }

std::size_t bytesOf(const Layout& layout) { return layout.size() * sizeof(float); }

LargeMemory cleared(std::size_t bytes) {
  LargeMemory memory = allocateLarge(bytes);
  std::fill_n(static_cast<std::byte*>(memory.get()), bytes, std::byte{0});
  return memory;
}

void fromPlanes(const Planes& planes, const Buffer& to) {
  const Layout& layout = to.layout;
  parallelFor(layout.height, [&](int y) {
    for (int c = 0; c < 3; ++c) {
      const float* row = &planes.plane[c][planes.index(0, y)];
      float* first = to.full() + layout.at(c, y * layout.width);
      for (int x = 0; x < layout.width; ++x) first[cellCount(x, layout.inner)] = row[x];
    }
  });
}

void toPlanes(const Buffer& from, Planes& planes) {
  const Layout& layout = from.layout;
  parallelFor(layout.height, [&](int y) {
    for (int c = 0; c < 3; ++c) {
      float* row = &planes.plane[c][planes.index(0, y)];
      const float* first = from.full() + layout.at(c, y * layout.width);
      for (int x = 0; x < layout.width; ++x) row[x] = first[cellCount(x, layout.inner)];
    }
  });
}

// Mirrored into what is around it.
void fromPhoto(const Image& photo, int left, int top, const Buffer& to) {
  const Layout& layout = to.layout;
  std::vector<int> columns(layout.width);
  for (int x = 0; x < layout.width; ++x) columns[x] = reflected(x - left, photo.width);
  parallelFor(layout.height, [&](int y) {
    const float* row = photo.row(reflected(y - top, photo.height));
    for (int c = 0; c < 3; ++c) {
      float* first = to.full() + layout.at(c, y * layout.width);
      for (int x = 0; x < layout.width; ++x)
        first[cellCount(x, layout.inner)] = row[cellAt(c, columns[x], 3)] - kMiddle;
    }
  });
}

Image toPicture(const Buffer& from, int left, int top, int width, int height) {
  const Layout& layout = from.layout;
  Image picture(width, height, 3);
  parallelFor(height, [&](int y) {
    for (int c = 0; c < 3; ++c) {
      const float* first = from.full() + layout.at(c, (y + top) * layout.width + left);
      float* row = picture.row(y) + c;
      for (int x = 0; x < width; ++x)
        row[cellCount(x, 3)] = std::clamp(first[cellCount(x, layout.inner)] + kMiddle, 0.0F, 1.0F);
    }
  });
  return picture;
}

void addTo(const Buffer& sum, const Buffer& more) {
  addWindow({sum}, {more}, sum.layout.width, sum.layout.height);
}

void requireLearnable(const Net& net) {
  for (const NetLayer& l : net.layers) {
    if (l.kind == NetLayer::Kind::scaling || l.kind == NetLayer::Kind::bounded || l.mirrored ||
        (l.kind == NetLayer::Kind::enlarging && l.between != NetLayer::Between::linear) ||
        (l.kind == NetLayer::Kind::sum && l.rectified))
      throw Error("the network has layers that only paint, and cannot learn");
  }
}

// Pieces of memory that are used again when what lay in them is not wanted any more.
class Pool {
 public:
  // The smallest free piece that is large enough, or the largest one made larger.
  int take(std::size_t bytes) {
    int best = -1;
    for (int i = 0; i < static_cast<int>(sizes_.size()); ++i) {
      if (taken_[i]) continue;
      const bool fits = sizes_[i] >= bytes;
      if (best < 0 || (fits ? sizes_[best] < bytes || sizes_[i] < sizes_[best]
                            : sizes_[best] < bytes && sizes_[i] > sizes_[best]))
        best = i;
    }
    if (best < 0) {
      best = static_cast<int>(sizes_.size());
      sizes_.push_back(0);
      taken_.push_back(false);
    }
    sizes_[best] = std::max(sizes_[best], bytes);
    taken_[best] = true;
    return best;
  }
  void give(int piece) { taken_[piece] = false; }
  const std::vector<std::size_t>& sizes() const { return sizes_; }

 private:
  std::vector<std::size_t> sizes_;
  std::vector<bool> taken_;
};

}  // namespace

struct NetPass::Impl {
  const Net& net;
  Planes out;
  Buffer picture;
  LargeMemory pictureMemory;
  std::vector<LargeMemory> memory;
  std::vector<std::unique_ptr<Operation>> operations;
  std::vector<Buffer> outputs;         // of each layer
  std::vector<bool> passedOver;        // layers that leave the picture as it is
  std::vector<std::size_t> momentsAt;  // of each layer, where its own begin
  std::vector<float> moments;
  bool held = false;
  // Where it learns.
  std::vector<Buffer> gradients;
  LargeMemory moreMemory;  // for a second gradient of one layer

  Impl(const Net& n, int width, int height) : net(n), out(width, height) {}

  std::size_t layers() const { return net.layers.size(); }
  const Buffer& outputOf(int layer) const {
    return layer == kPicture || passedOver[layer] ? picture : outputs[layer];
  }
  const Buffer& painting() const { return outputOf(static_cast<int>(layers()) - 1); }
  std::span<const float> parametersOf(int layer) const {
    return std::span(net.parameters).subspan(net.firstParameter(layer), net.parameterCount(layer));
  }
  std::span<float> momentsOf(int layer) {
    return std::span(moments).subspan(momentsAt[layer], momentsAt[layer + 1] - momentsAt[layer]);
  }

  // A change of colours that changes none.
  bool changesNothing(int layer) const {
    const NetLayer& l = net.layers[layer];
    if (l.kind != NetLayer::Kind::convolution || l.from != kPicture || l.kernel != 1 || l.stride != 1 ||
        l.rectified || l.outputs != net.channels)
      return false;
    const auto parameters = parametersOf(layer);
    for (int to = 0; to < l.outputs; ++to) {
      for (int from = 0; from < l.outputs; ++from) {
        if (parameters[cellAt(from, to, l.outputs)] != (from == to ? 1.0F : 0.0F)) return false;
      }
    }
    const auto biases = parameters.last(l.outputs);
    return std::all_of(biases.begin(), biases.end(), [](float b) { return b == 0; });
  }

  void prepare(int width, int height, const Blocking& blocking) {
    const Layout first = blockedLayout(net.channels, width, height, blocking);
    pictureMemory = cleared(bytesOf(first));
    picture = bufferOver(pictureMemory.get(), first);
    std::size_t count = 0;
    for (int i = 0; i < static_cast<int>(layers()); ++i) {
      const NetLayer& layer = net.layers[i];
      operations.push_back(
          makeOperation(layer, layer.from == kPicture ? first : operations[layer.from]->output(), blocking));
      passedOver.push_back(false);
      momentsAt.push_back(count);
      if (layer.kind == NetLayer::Kind::normalisation) count += 2 * static_cast<std::size_t>(layer.outputs);
    }
    momentsAt.push_back(count);
    moments.resize(count);
  }

  void allocateAll() {
    std::size_t most = bytesOf(picture.layout);
    for (const auto& operation : operations) {
      const Layout layout = operation->output();
      most = std::max(most, bytesOf(layout));
      for (auto* buffers : {&outputs, &gradients}) {
        memory.push_back(cleared(bytesOf(layout)));
        buffers->push_back(bufferOver(memory.back().get(), layout));
      }
    }
    moreMemory = allocateLarge(most);
  }

  void allocateShared() {
    std::vector<int> lastUse(layers());
    for (int i = 0; i < static_cast<int>(layers()); ++i) {
      lastUse[i] = i;
      for (const int from : {net.layers[i].from, net.layers[i].also}) {
        if (from != kPicture) lastUse[from] = i;
      }
    }
    Pool pool;
    std::vector<int> pieces;
    for (int i = 0; i < static_cast<int>(layers()); ++i) {
      const int from = net.layers[i].from;
      const NetLayer::Kind kind = net.layers[i].kind;
      // These may write over what they take.
      const bool mayLieOver = kind == NetLayer::Kind::normalisation || kind == NetLayer::Kind::sum ||
                              kind == NetLayer::Kind::scaling || kind == NetLayer::Kind::bounded;
      const bool over = mayLieOver && from != kPicture && lastUse[from] == i;
      pieces.push_back(over ? pieces[from] : pool.take(bytesOf(operations[i]->output())));
      for (int k = 0; k < i; ++k) {
        if (lastUse[k] == i && pieces[k] != pieces[i]) pool.give(pieces[k]);
      }
    }
    for (const std::size_t size : pool.sizes()) memory.push_back(cleared(size));
    for (std::size_t i = 0; i < layers(); ++i)
      outputs.push_back(bufferOver(memory[pieces[i]].get(), operations[i]->output()));
  }

  void forward() {
    for (int i = 0; i < static_cast<int>(layers()); ++i) {
      const NetLayer& layer = net.layers[i];
      passedOver[i] = changesNothing(i);
      if (passedOver[i]) continue;
      operations[i]->forward({.parameters = parametersOf(i),
                              .source = outputOf(layer.from),
                              .also = outputOf(layer.also),
                              .target = outputs[i],
                              .moments = momentsOf(i),
                              .momentsGiven = held});
    }
  }

  // A layer that several take gets the sum of what they hand back.
  void backward(std::span<float> parameterGradient) {
    std::vector<bool> reached(layers());
    reached.back() = true;
    const auto handBack = [&](int layer, const Buffer& gradient) {
      if (layer == kPicture) return;
      if (reached[layer])
        addTo(gradients[layer], gradient);
      else
        std::copy_n(gradient.full(), gradient.layout.size(), gradients[layer].full());
      reached[layer] = true;
    };
    for (int i = static_cast<int>(layers()) - 1; i >= 0; --i) {
      if (!reached[i]) continue;
      const NetLayer& layer = net.layers[i];
      if (layer.kind == NetLayer::Kind::sum) {
        handBack(layer.from, gradients[i]);
        handBack(layer.also, gradients[i]);
        continue;
      }
      Buffer to;
      if (layer.from != kPicture) {
        to = gradients[layer.from];
        if (reached[layer.from]) to.data = moreMemory.get();
      }
      operations[i]->backward(
          {.parameters = parametersOf(i),
           .source = outputOf(layer.from),
           .target = outputs[i],
           .moments = momentsOf(i),
           .gradient = gradients[i],
           .sourceGradient = to,
           .parameterGradient = parameterGradient.subspan(net.firstParameter(i), net.parameterCount(i))});
      if (layer.from == kPicture) continue;
      if (reached[layer.from]) addTo(gradients[layer.from], to);
      reached[layer.from] = true;
    }
  }
};

NetPass::NetPass(const Net& net, int width, int height, Use use) {
  requireSound(net);
  if (net.channels != 3 || net.layers.back().outputs != 3 ||
      net.shrinkOf(static_cast<int>(net.layers.size()) - 1) != 1)
    throw Error("a painter's network takes and gives three channels of one size");
  const int shrink = net.largestShrink();
  if (width < shrink || height < shrink || width % shrink != 0 || height % shrink != 0) {
    throw Error(fmt::format("a network that halves its picture to 1/{} cannot take {}x{} pixels", shrink,
                            width, height));
  }
  if (use == Use::learning) requireLearnable(net);
  impl_ = std::make_unique<Impl>(net, width, height);
  impl_->prepare(width, height, quickestBlocking(net, use == Use::painting));
  if (use == Use::learning)
    impl_->allocateAll();
  else
    impl_->allocateShared();
}

NetPass::~NetPass() = default;
NetPass::NetPass(NetPass&&) noexcept = default;

const Planes& NetPass::forward(const Planes& picture) {
  fromPlanes(picture, impl_->picture);
  impl_->forward();
  toPlanes(impl_->painting(), impl_->out);
  return impl_->out;
}

Image NetPass::paint(const Image& photo, int left, int top) {
  const Layout& canvas = impl_->picture.layout;
  if (photo.channels != 3 || left < 0 || top < 0 || left + photo.width > canvas.width ||
      top + photo.height > canvas.height)
    throw Error(fmt::format("a network for {}x{} pixels cannot paint a photo of {}x{} there", canvas.width,
                            canvas.height, photo.width, photo.height));
  fromPhoto(photo, left, top, impl_->picture);
  impl_->forward();
  return toPicture(impl_->painting(), left, top, photo.width, photo.height);
}

const std::vector<float>& NetPass::moments() const { return impl_->moments; }

void NetPass::holdMoments(std::vector<float> moments) {
  if (!moments.empty() && moments.size() != impl_->moments.size())
    throw Error("the moments to hold are of another network");
  impl_->held = !moments.empty();
  if (impl_->held) impl_->moments = std::move(moments);
}

void NetPass::backward(const Planes& gradient, std::span<float> parameterGradient) {
  fromPlanes(gradient, impl_->gradients.back());
  impl_->backward(parameterGradient);
}

}  // namespace jugendstil
