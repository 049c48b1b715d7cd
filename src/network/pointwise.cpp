// SPDX-License-Identifier: Apache-2.0
#include "network/pointwise.h"

#include <algorithm>

#include "base/parallel.h"

namespace jugendstil {
namespace {

using dnnl::memory;
using Tag = memory::format_tag;
using Type = memory::data_type;

memory::desc openWeights(memory::dim outputs, memory::dim inputs, Type type) {
  return memory::desc({outputs, inputs, 1, 1}, type, Tag::any);
}

dnnl::convolution_forward::primitive_desc describe(const dnnl::engine& engine, const memory::desc& source,
                                                   const memory::desc& target, bool accumulate) {
  const auto in = source.dims()[1];
  const auto out = target.dims()[1];
  dnnl::primitive_attr attributes;
  if (accumulate) {
    dnnl::post_ops operations;
    operations.append_sum(1.0F);
    attributes.set_post_ops(operations);
  }
  const dnnl::convolution_forward::desc description(
      dnnl::prop_kind::forward_inference, dnnl::algorithm::convolution_direct, source,
      openWeights(out, in, source.data_type()), memory::desc({out}, Type::f32, Tag::x), target, {1, 1},
      {0, 0}, {0, 0});
  return {description, attributes, engine};
}

}  // namespace

Pointwise::Pointwise(const dnnl::engine& engine, const memory::desc& source, const memory::desc& target,
                     bool accumulate)
    : engine_(engine), description_(describe(engine, source, target, accumulate)), primitive_(description_) {
  plain_ = memory({{target.dims()[1], source.dims()[1], 1, 1}, Type::f32, Tag::oihw}, engine_);
  packed_ = memory(description_.weights_desc(), engine_);
  offset_ = memory(description_.bias_desc(), engine_);
}

void Pointwise::run(dnnl::stream& stream, const memory& from, const memory& to,
                    std::span<const float> weights, std::span<const float> offset) {
  std::copy(weights.begin(), weights.end(), static_cast<float*>(plain_.get_data_handle()));
  std::copy(offset.begin(), offset.end(), static_cast<float*>(offset_.get_data_handle()));
  dnnl::reorder(plain_, packed_).execute(stream, plain_, packed_);
  primitive_.execute(
      stream,
      {{DNNL_ARG_SRC, from}, {DNNL_ARG_WEIGHTS, packed_}, {DNNL_ARG_BIAS, offset_}, {DNNL_ARG_DST, to}});
  stream.wait();
}

}  // namespace jugendstil
