// SPDX-License-Identifier: Apache-2.0
#include "network/convolution.h"

#include <algorithm>

#include "base/parallel.h"

namespace jugendstil {
namespace {

using dnnl::algorithm;
using dnnl::memory;

// With fewer channels the transformed activations, with fewer positions the transformed weights, cost more
// than the multiplications saved. Measured at 3 to 512 channels and 48 to 786,432 positions.
constexpr memory::dim kLeastChannels = 32;
constexpr double kLeastPositions = 400;

dnnl::primitive_attr ownScratchpad() {
  dnnl::primitive_attr attributes;
  attributes.set_scratchpad_mode(dnnl::scratchpad_mode::user);
  return attributes;
}

dnnl::primitive_attr withWhatFollows(dnnl::primitive_attr attributes, const ConvolutionShape& s) {
  dnnl::post_ops operations;
  if (s.adds) operations.append_sum(1.0F);
  if (s.negativeSlope < 1) operations.append_eltwise(1.0F, algorithm::eltwise_relu, s.negativeSlope, 0.0F);
  attributes.set_post_ops(operations);
  return attributes;
}

// With one thread the library orders the work of minimal filtering in another way, and sums in another order.
// So it is always asked for as if there were two: what is made for two threads runs on one as well.
class AsForTwo {
 public:
  AsForTwo() : threads_(threadCount()) { assumeThreads(std::max(2, threads_)); }
  ~AsForTwo() { assumeThreads(threads_); }
  AsForTwo(const AsForTwo&) = delete;
  AsForTwo& operator=(const AsForTwo&) = delete;

 private:
  int threads_;
};

// Either is empty where the library has no such implementation and that is no error.
ConvolutionPair prepare(algorithm how, const ConvolutionShape& s, const dnnl::engine& engine,
                        bool mayBeEmpty) {
  ConvolutionPair pair;
  const memory::dims strides{s.stride, s.stride};
  const dnnl::convolution_forward::desc forward(dnnl::prop_kind::forward_training, how, s.source, s.weights,
                                                s.bias, s.target, strides, s.before, s.after);
  pair.forward = {forward, withWhatFollows(ownScratchpad(), s), engine, mayBeEmpty};
  if (!pair.forward) return pair;
  // The gradient comes and goes in the layouts of the forward pass, so that nothing is ever reordered.
  const bool open = s.source.data.format_kind == dnnl_format_kind_any;
  const dnnl::convolution_backward_data::desc backward(how, open ? s.source : pair.forward.src_desc(),
                                                       s.weights, pair.forward.dst_desc(), strides, s.before,
                                                       s.after);
  pair.backward = {backward, ownScratchpad(), engine, pair.forward, mayBeEmpty};
  return pair;
}

}  // namespace

bool worthTransforming(memory::dim inputs, memory::dim outputs, double positions) {
  return std::min(inputs, outputs) >= kLeastChannels && positions >= kLeastPositions;
}

ConvolutionPair chooseConvolution(const ConvolutionShape& shape, const dnnl::engine& engine) {
  const AsForTwo asForTwo;
  const auto in = shape.source.dims();
  const auto out = shape.target.dims();
  if (shape.source.data_type() == memory::data_type::f32 && shape.weights.dims()[2] == 3 &&
      shape.stride == 1 && worthTransforming(in[1], out[1], static_cast<double>(out[2] * out[3]))) {
    ConvolutionPair pair = prepare(algorithm::convolution_winograd, shape, engine, true);
    if (pair.forward && pair.backward) return pair;
  }
  return prepare(algorithm::convolution_direct, shape, engine, false);
}

// From as many weights on the library transforms whole activations before it multiplies: 36 values for every
// 16. Below that a cache's worth at a time, for each thread.
std::size_t scratchpadFor(const Convolution& layer, double positions) {
  constexpr double kFixed = 8e6;
  constexpr double kEachThread = 1e6;
  if (layer.kernel != 3 || layer.stride != 1 || !worthTransforming(layer.inputs, layer.outputs, positions))
    return 0;
  constexpr double kWholeFrom = 128.0 * 256;
  const double weights = 1.0 * layer.inputs * layer.outputs;
  if (weights < kWholeFrom)
    return static_cast<std::size_t>(kFixed + kEachThread * std::max(2, threadCount()));
  const double values = 36 * weights + 36.0 / 16 * positions * (layer.inputs + layer.outputs);
  return static_cast<std::size_t>(kFixed + values * sizeof(float));
}

}  // namespace jugendstil
