// SPDX-License-Identifier: Apache-2.0
#include "learn/net.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"

namespace jugendstil {
namespace {

// Of the painter's network. Twice the channels take four times the time.
constexpr int kFullChannels = 16;
constexpr int kHalfChannels = 16;
constexpr int kQuarterChannels = 48;
constexpr int kBlocks = 4;
// What is added to the photo is little at first; a tenth of it is already taken for wild brush-work, and runs
// away before it is learned.
constexpr float kAddedAtFirst = 0.01F;

constexpr int kMostShrink = 64;

class Builder {
 public:
  int convolution(int from, int outputs, int stride, int kernel = 3) {
    return add({.kind = NetLayer::Kind::convolution,
                .from = from,
                .outputs = outputs,
                .kernel = kernel,
                .stride = stride});
  }
  int normalisation(int from, bool rectified) {
    return add({.kind = NetLayer::Kind::normalisation,
                .from = from,
                .outputs = net_.layers[from].outputs,
                .rectified = rectified});
  }
  int enlarging(int from) {
    return add({.kind = NetLayer::Kind::enlarging, .from = from, .outputs = net_.layers[from].outputs});
  }
  int sum(int from, int also) {
    return add(
        {.kind = NetLayer::Kind::sum, .from = from, .also = also, .outputs = net_.layers[from].outputs});
  }
  // What is learned is how to change what came in (He, Zhang, Ren & Sun 2016).
  int residualBlock(int from) {
    const int channels = net_.layers[from].outputs;
    const int first = normalisation(convolution(from, channels, 1), true);
    return sum(from, normalisation(convolution(first, channels, 1), false));
  }
  Net net() { return net_; }

 private:
  int add(const NetLayer& layer) {
    net_.layers.push_back(layer);
    return static_cast<int>(net_.layers.size()) - 1;
  }
  Net net_;
};

int channelsOf(const Net& net, int layer) {
  return layer == kPicture ? net.channels : net.layers[layer].outputs;
}

}  // namespace

int Net::inputsOf(int layer) const { return channelsOf(*this, layers[layer].from); }

std::size_t Net::parameterCount(int layer) const {
  const NetLayer& l = layers[layer];
  const std::size_t outputs = l.outputs;
  switch (l.kind) {
    case NetLayer::Kind::convolution:
      return outputs * inputsOf(layer) * l.kernel * l.kernel + outputs;
    case NetLayer::Kind::normalisation:
    case NetLayer::Kind::scaling:
      return 2 * outputs;
    case NetLayer::Kind::enlarging:
    case NetLayer::Kind::sum:
    case NetLayer::Kind::bounded:
      return 0;
  }
  return 0;
}

std::size_t Net::firstParameter(int layer) const {
  std::size_t sum = 0;
  for (int i = 0; i < layer; ++i) sum += parameterCount(i);
  return sum;
}

int Net::shrinkOf(int layer) const {
  if (layer == kPicture) return 1;
  const NetLayer& l = layers[layer];
  const int before = shrinkOf(l.from);
  return l.kind == NetLayer::Kind::enlarging ? before / 2 : before * l.stride;
}

int Net::largestShrink() const {
  int most = 1;
  for (std::size_t i = 0; i < layers.size(); ++i) most = std::max(most, shrinkOf(static_cast<int>(i)));
  return most;
}

void requireSound(const Net& net) {
  const auto fail = [](int layer, const char* why) {
    throw Error(fmt::format("layer {} of the network {}", layer + 1, why));
  };
  if (net.layers.empty()) throw Error("the network has no layers");
  for (int i = 0; i < static_cast<int>(net.layers.size()); ++i) {
    const NetLayer& l = net.layers[i];
    if (l.from < kPicture || l.from >= i || l.also < kPicture || l.also >= i)
      fail(i, "takes what does not stand before it");
    if (l.outputs < 1) fail(i, "has no channels");
    if (l.stride != 1 && (l.stride != 2 || l.kind != NetLayer::Kind::convolution))
      fail(i, "has a stride that it cannot have");
    if (l.kernel < 1 || (l.stride == 1 && l.kernel % 2 == 0)) fail(i, "has a kernel that it cannot have");
    if (net.shrinkOf(i) > kMostShrink) fail(i, "halves the picture too often");
    if (l.kind != NetLayer::Kind::convolution && l.outputs != channelsOf(net, l.from))
      fail(i, "gives other channels than it takes");
    if (l.kind == NetLayer::Kind::enlarging && net.shrinkOf(l.from) < 2)
      fail(i, "enlarges beyond the picture's own size");
    if (l.kind == NetLayer::Kind::sum &&
        (channelsOf(net, l.also) != l.outputs || net.shrinkOf(l.also) != net.shrinkOf(l.from)))
      fail(i, "adds what has another size or other channels");
  }
  if (net.parameters.size() != net.firstParameter(static_cast<int>(net.layers.size())))
    throw Error("the network's layers and its parameters do not fit each other");
}

float drawnNormal(std::mt19937_64& random) {
  // Twelve even numbers have variance 1 together.
  float sum = -6;
  for (int n = 0; n < 12; ++n) sum += static_cast<float>(random() >> 40) * 0x1p-24F;
  return sum;
}

std::vector<float> firstParameters(const Net& net, std::uint64_t seed) {
  std::vector<float> all;
  std::mt19937_64 random(seed);
  for (int i = 0; i < static_cast<int>(net.layers.size()); ++i) {
    const NetLayer& l = net.layers[i];
    const std::size_t count = net.parameterCount(i);
    const std::size_t channels = l.outputs;
    if (l.kind == NetLayer::Kind::normalisation) {
      all.insert(all.end(), channels, 1.0F);
      all.insert(all.end(), channels, 0.0F);
    } else if (l.kind == NetLayer::Kind::convolution) {
      const float spread = std::sqrt(2.0F / static_cast<float>(net.inputsOf(i) * l.kernel * l.kernel));
      for (std::size_t k = 0; k < count - channels; ++k) all.push_back(spread * drawnNormal(random));
      all.insert(all.end(), channels, 0.0F);
    }
  }
  return all;
}

void setSoftening(Net& net, int layer) {
  constexpr float kBinomial[] = {0.25F, 0.5F, 0.25F};
  const std::size_t first = net.firstParameter(layer);
  std::fill_n(net.parameters.begin() + static_cast<std::ptrdiff_t>(first), net.parameterCount(layer), 0.0F);
  for (std::size_t c = 0; c < 3; ++c) {
    float* kernel = &net.parameters[first + (c * 3 + c) * 9];
    for (std::size_t i = 0; i < 9; ++i) kernel[i] = kBinomial[i / 3] * kBinomial[i % 3];
  }
}

Net painterNet(std::uint64_t seed) {
  Builder b;
  // The photo in other colours, to which all that follows is added.
  const int colours = b.convolution(kPicture, 3, 1, 1);
  int at = b.normalisation(b.convolution(colours, kHalfChannels, 2), true);
  at = b.normalisation(b.convolution(at, kQuarterChannels, 2), true);
  for (int i = 0; i < kBlocks; ++i) at = b.residualBlock(at);
  at = b.normalisation(b.convolution(b.enlarging(at), kHalfChannels, 1), true);
  at = b.normalisation(b.convolution(b.enlarging(at), kFullChannels, 1), true);
  const int added = b.convolution(at, 3, 1);
  const int softened = b.convolution(colours, 3, 2);
  b.sum(b.enlarging(softened), added);
  Net net = b.net();
  net.parameters = firstParameters(net, seed);
  setSoftening(net, softened);
  const std::size_t first = net.firstParameter(added);
  for (std::size_t i = 0; i < net.parameterCount(added); ++i) net.parameters[first + i] *= kAddedAtFirst;
  setColours(net, kOwnColours);
  return net;
}

void setColours(Net& net, const AffineColourMap& map) {
  for (std::size_t to = 0; to < 3; ++to) {
    double middle = map.offset[to] - double{kMiddle};
    for (std::size_t from = 0; from < 3; ++from) {
      net.parameters[to * 3 + from] = static_cast<float>(map.matrix[to][from]);
      middle += map.matrix[to][from] * double{kMiddle};
    }
    net.parameters[9 + to] = static_cast<float>(middle);
  }
}

AffineColourMap coloursOf(const Net& net) {
  const bool first = !net.layers.empty() && net.layers[0].kind == NetLayer::Kind::convolution &&
                     net.layers[0].from == kPicture && net.layers[0].kernel == 1 && net.channels == 3 &&
                     net.layers[0].outputs == 3;
  if (!first) throw Error("the network's first layer is no change of colours");
  AffineColourMap map;
  for (std::size_t to = 0; to < 3; ++to) {
    double offset = double{net.parameters[9 + to]} + double{kMiddle};
    for (std::size_t from = 0; from < 3; ++from) {
      map.matrix[to][from] = double{net.parameters[to * 3 + from]};
      offset -= map.matrix[to][from] * double{kMiddle};
    }
    map.offset[to] = offset;
  }
  return map;
}

}  // namespace jugendstil
