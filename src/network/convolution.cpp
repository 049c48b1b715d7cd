#include "network/convolution.h"

#include <algorithm>

namespace jugendstil {
namespace {

using dnnl::algorithm;
using dnnl::memory;

// With fewer channels the transformed activations, with fewer positions the transformed weights, cost more
// than the multiplications saved. Measured at 3 to 512 channels and 48 to 786,432 positions.
constexpr memory::dim kLeastChannels = 32;
constexpr memory::dim kLeastPositions = 400;

bool worthTransforming(const ConvolutionShape& shape) {
  const auto in = shape.source.dims();
  const auto out = shape.target.dims();
  return shape.source.data_type() == memory::data_type::f32 && std::min(in[1], out[1]) >= kLeastChannels &&
         out[2] * out[3] >= kLeastPositions;
}

dnnl::primitive_attr ownScratchpad() {
  dnnl::primitive_attr attributes;
  attributes.set_scratchpad_mode(dnnl::scratchpad_mode::user);
  return attributes;
}

dnnl::primitive_attr withRelu(dnnl::primitive_attr attributes) {
  dnnl::post_ops operations;
  operations.append_eltwise(1.0F, algorithm::eltwise_relu, 0.0F, 0.0F);
  attributes.set_post_ops(operations);
  return attributes;
}

// Either is empty where the library has no such implementation and that is no error.
ConvolutionPair prepare(algorithm how, const ConvolutionShape& s, const dnnl::engine& engine,
                        bool mayBeEmpty) {
  ConvolutionPair pair;
  const dnnl::convolution_forward::desc forward(dnnl::prop_kind::forward_training, how, s.source, s.weights,
                                                s.bias, s.target, {1, 1}, s.pad, s.pad);
  pair.forward = {forward, withRelu(ownScratchpad()), engine, mayBeEmpty};
  if (!pair.forward) return pair;
  // The gradient comes and goes in the layouts of the forward pass, so that nothing is ever reordered.
  const bool open = s.source.data.format_kind == dnnl_format_kind_any;
  const dnnl::convolution_backward_data::desc backward(how, open ? s.source : pair.forward.src_desc(),
                                                       s.weights, pair.forward.dst_desc(), {1, 1}, s.pad,
                                                       s.pad);
  pair.backward = {backward, ownScratchpad(), engine, pair.forward, mayBeEmpty};
  return pair;
}

}  // namespace

ConvolutionPair chooseConvolution(const ConvolutionShape& shape, const dnnl::engine& engine) {
  if (worthTransforming(shape)) {
    ConvolutionPair pair = prepare(algorithm::convolution_winograd, shape, engine, true);
    if (pair.forward && pair.backward) return pair;
  }
  return prepare(algorithm::convolution_direct, shape, engine, false);
}

}  // namespace jugendstil
