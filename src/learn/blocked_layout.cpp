// SPDX-License-Identifier: Apache-2.0
#include "learn/blocked_layout.h"

#include <algorithm>
#include <dnnl.hpp>
#include <string_view>

namespace jugendstil {
namespace {

using dnnl::memory;
using Tag = memory::format_tag;

// Asked of the library, which knows the processor.
dnnl::convolution_forward::primitive_desc chosenFor(memory::dim inputs, memory::dim outputs, Tag tag) {
  const auto described = [](const memory::dims& dims, Tag as) {
    return memory::desc(dims, memory::data_type::f32, as);
  };
  const dnnl::convolution_forward::desc description(
      dnnl::prop_kind::forward_training, dnnl::algorithm::convolution_direct,
      described({1, inputs, 32, 32}, tag), described({outputs, inputs, 3, 3}, Tag::any),
      described({outputs}, Tag::any), described({1, outputs, 32, 32}, tag), {1, 1}, {1, 1}, {1, 1});
  return {description, dnnl::engine(dnnl::engine::kind::cpu, 0)};
}

int quickestBlock() {
  const memory::desc source = chosenFor(64, 64, Tag::any).src_desc();
  const auto& blocking = source.data.format_desc.blocking;
  const auto block = blocking.inner_nblks == 1 ? blocking.inner_blks[0] : 0;
  return block == 8 || block == 16 ? static_cast<int>(block) : 0;
}

// By small matrix products, for which any number of channels may stand together; everything else that the
// library has takes a thousand times as long for three.
bool convolvesByProducts(memory::dim inputs, memory::dim outputs) {
  const std::string_view how = chosenFor(inputs, outputs, Tag::nhwc).impl_info_str();
  return how.starts_with("brgconv");
}

int channelsBefore(const Net& net, const NetLayer& layer) {
  return layer.from == kPicture ? net.channels : net.layers[layer.from].outputs;
}

// Layers of few channels must come from and go to layers of one block.
bool canBeCompact(const Net& net, int block) {
  for (const NetLayer& layer : net.layers) {
    if (layer.kind != NetLayer::Kind::convolution) continue;
    const int before = channelsBefore(net, layer);
    if (std::min(before, layer.outputs) < block && std::max(before, layer.outputs) > block) return false;
  }
  return convolvesByProducts(3, block) && convolvesByProducts(block, 3);
}

}  // namespace

Blocking quickestBlocking(const Net& net, bool paintingAlone) {
  const int block = quickestBlock();
  return {block, paintingAlone && block > 0 && canBeCompact(net, block)};
}

Layout blockedLayout(int channels, int width, int height, const Blocking& blocking) {
  const bool together = blocking.channels == 0 || (blocking.compact && channels < blocking.channels);
  const int inner = together ? channels : blocking.channels;
  return {channels, (channels + inner - 1) / inner, inner, height, width};
}

}  // namespace jugendstil
