// SPDX-License-Identifier: Apache-2.0
#include "learn/blocked_layout.h"

#include <dnnl.hpp>

namespace jugendstil {

// Asked of the library, which knows the processor.
int quickestBlock() {
  using dnnl::memory;
  const auto any = [](const memory::dims& dims) {
    return memory::desc(dims, memory::data_type::f32, memory::format_tag::any);
  };
  const dnnl::engine engine(dnnl::engine::kind::cpu, 0);
  const dnnl::convolution_forward::desc description(
      dnnl::prop_kind::forward_training, dnnl::algorithm::convolution_direct, any({1, 64, 32, 32}),
      any({64, 64, 3, 3}), any({64}), any({1, 64, 32, 32}), {1, 1}, {1, 1}, {1, 1});
  const dnnl::convolution_forward::primitive_desc chosen(description, engine);
  const memory::desc source = chosen.src_desc();
  const auto& blocking = source.data.format_desc.blocking;
  const auto block = blocking.inner_nblks == 1 ? blocking.inner_blks[0] : 0;
  return block == 8 || block == 16 ? static_cast<int>(block) : 0;
}

Layout blockedLayout(int channels, int width, int height, int block) {
  const int inner = block > 0 ? block : channels;
  return {channels, (channels + inner - 1) / inner, inner, height, width};
}

}  // namespace jugendstil
