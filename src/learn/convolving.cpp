// SPDX-License-Identifier: Apache-2.0
#include "learn/convolving.h"

#include <algorithm>
#include <dnnl.hpp>

#include "network/convolution.h"

namespace jugendstil {
namespace {

using dnnl::memory;
using Tag = memory::format_tag;
using Type = memory::data_type;

memory::desc describe(const Layout& layout, int block) {
  const memory::dim channels = memory::dim{1} * layout.blocks * layout.inner;
  const memory::dims dims{1, channels, layout.height, layout.width};
  if (block == 16) return {dims, Type::f32, Tag::nChw16c};
  if (block == 8) return {dims, Type::f32, Tag::nChw8c};
  return {dims, Type::f32, Tag::nhwc};
}

// One block of channels is the same as all channels together, which is how the library has kernels for few.
int blockBetween(const Layout& source, const Layout& target, const Blocking& blocking) {
  return blocking.compact && source.blocks == 1 && target.blocks == 1 ? 0 : blocking.channels;
}

// To the library all blocks are full: what it has for a few channels beside a block's room for more takes a
// thousand times as long. The weights of channels that are not there are 0.
class Convolving final : public Operation {
 public:
  Convolving(const NetLayer& layer, const Layout& source, const Layout& target, int block)
      : layer_(layer),
        inputs_(source.channels),
        fullInputs_(source.blocks * source.inner),
        fullOutputs_(target.blocks * target.inner),
        output_(target),
        engine_(dnnl::engine::kind::cpu, 0),
        stream_(engine_),
        source_(describe(source, block)),
        target_(describe(target, block)),
        biasDesc_({fullOutputs_}, Type::f32, Tag::x) {
    const memory::dims dims{fullOutputs_, fullInputs_, layer.kernel, layer.kernel};
    anyWeights_ = memory::desc(dims, Type::f32, Tag::any);
    plainWeights_ = memory::desc(dims, Type::f32, Tag::oihw);
    if (transforms()) forwardDesc_ = forwardBy(dnnl::algorithm::convolution_winograd, true);
    if (!forwardDesc_) forwardDesc_ = forwardBy(dnnl::algorithm::convolution_direct, false);
    forward_ = dnnl::convolution_forward(forwardDesc_);
    forwardWeights_ = memory(forwardDesc_.weights_desc(), engine_);
    full_ = memory(plainWeights_, engine_);
    bias_ = memory(biasDesc_, engine_);
    std::fill_n(valuesOf(full_), plainWeights_.get_size() / sizeof(float), 0.0F);
    std::fill_n(valuesOf(bias_), fullOutputs_, 0.0F);
  }

  Layout output() const override { return output_; }

  void forward(const ForwardPass& pass) override {
    fill(pass.parameters);
    reorder(full_, forwardWeights_);
    forward_.execute(stream_, {{DNNL_ARG_SRC, over(source_, pass.source.data)},
                               {DNNL_ARG_WEIGHTS, forwardWeights_},
                               {DNNL_ARG_BIAS, bias_},
                               {DNNL_ARG_DST, over(target_, pass.target.data)}});
    stream_.wait();
  }

  void backward(const BackwardPass& pass) override {
    if (layer_.rectified) maskByRelu(pass.gradient, nullptr, pass.target);
    const memory gradient = over(target_, pass.gradient.data);
    if (pass.sourceGradient.data != nullptr) toSource(pass, gradient);
    toParameters(pass, gradient);
  }

 private:
  static float* valuesOf(const memory& m) { return static_cast<float*>(m.get_data_handle()); }
  memory::dims strides() const { return {layer_.stride, layer_.stride}; }
  // What is mirrored stands in the source already.
  memory::dims padding() const {
    const int pad = layer_.mirrored ? 0 : layer_.pad();
    return {pad, pad};
  }
  memory over(const memory::desc& description, void* data) const { return {description, engine_, data}; }
  std::size_t kernelSize() const { return cellCount(layer_.kernel, layer_.kernel); }
  // The weights of one output, among the parameters and where all blocks are full.
  std::size_t ownRow() const { return inputs_ * kernelSize(); }
  std::size_t fullRow() const { return fullInputs_ * kernelSize(); }

  bool transforms() const {
    return worthTransforming(fullInputs_, fullOutputs_, static_cast<double>(output_.width) * output_.height);
  }

  dnnl::convolution_forward::primitive_desc forwardBy(dnnl::algorithm how, bool mayBeEmpty) const {
    const dnnl::convolution_forward::desc description(dnnl::prop_kind::forward_training, how, source_,
                                                      anyWeights_, biasDesc_, target_, strides(), padding(),
                                                      padding());
    return {description, rectifying(), engine_, mayBeEmpty};
  }

  dnnl::convolution_backward_data::primitive_desc backwardBy(dnnl::algorithm how, bool mayBeEmpty) const {
    const dnnl::convolution_backward_data::desc description(how, source_, anyWeights_, target_, strides(),
                                                            padding(), padding());
    return {description, engine_, forwardDesc_, mayBeEmpty};
  }

  dnnl::primitive_attr rectifying() const {
    dnnl::primitive_attr attributes;
    if (!layer_.rectified) return attributes;
    dnnl::post_ops operations;
    operations.append_eltwise(1.0F, dnnl::algorithm::eltwise_relu, 0.0F, 0.0F);
    attributes.set_post_ops(operations);
    return attributes;
  }

  void fill(std::span<const float> parameters) {
    for (std::size_t o = 0; o < static_cast<std::size_t>(layer_.outputs); ++o)
      std::copy_n(&parameters[o * ownRow()], ownRow(), valuesOf(full_) + o * fullRow());
    std::copy_n(&parameters[layer_.outputs * ownRow()], layer_.outputs, valuesOf(bias_));
  }

  void toSource(const BackwardPass& pass, const memory& gradient) {
    if (!toSource_) {
      dnnl::convolution_backward_data::primitive_desc chosen;
      if (transforms()) chosen = backwardBy(dnnl::algorithm::convolution_winograd, true);
      if (!chosen) chosen = backwardBy(dnnl::algorithm::convolution_direct, false);
      toSource_ = dnnl::convolution_backward_data(chosen);
      backwardWeights_ = memory(chosen.weights_desc(), engine_);
    }
    reorder(full_, backwardWeights_);
    toSource_.execute(stream_, {{DNNL_ARG_DIFF_DST, gradient},
                                {DNNL_ARG_WEIGHTS, backwardWeights_},
                                {DNNL_ARG_DIFF_SRC, over(source_, pass.sourceGradient.data)}});
    stream_.wait();
  }

  void toParameters(const BackwardPass& pass, const memory& gradient) {
    if (!toWeights_) {
      const dnnl::convolution_backward_weights::desc description(dnnl::algorithm::convolution_direct, source_,
                                                                 anyWeights_, biasDesc_, target_, strides(),
                                                                 padding(), padding());
      const dnnl::convolution_backward_weights::primitive_desc chosen(description, engine_, forwardDesc_);
      toWeights_ = dnnl::convolution_backward_weights(chosen);
      weightGradient_ = memory(chosen.diff_weights_desc(), engine_);
      biasGradient_ = memory(biasDesc_, engine_);
      plainGradient_ = memory(plainWeights_, engine_);
    }
    toWeights_.execute(stream_, {{DNNL_ARG_SRC, over(source_, pass.source.data)},
                                 {DNNL_ARG_DIFF_DST, gradient},
                                 {DNNL_ARG_DIFF_WEIGHTS, weightGradient_},
                                 {DNNL_ARG_DIFF_BIAS, biasGradient_}});
    reorder(weightGradient_, plainGradient_);
    stream_.wait();
    for (std::size_t o = 0; o < static_cast<std::size_t>(layer_.outputs); ++o) {
      float* to = &pass.parameterGradient[o * ownRow()];
      const float* from = valuesOf(plainGradient_) + o * fullRow();
      for (std::size_t i = 0; i < ownRow(); ++i) to[i] += from[i];
      pass.parameterGradient[layer_.outputs * ownRow() + o] += valuesOf(biasGradient_)[o];
    }
  }

  void reorder(memory& from, memory& to) { dnnl::reorder(from, to).execute(stream_, from, to); }

  NetLayer layer_;
  std::size_t inputs_;
  int fullInputs_;
  int fullOutputs_;
  Layout output_;
  dnnl::engine engine_;
  dnnl::stream stream_;
  memory::desc source_;
  memory::desc target_;
  memory::desc biasDesc_;
  memory::desc anyWeights_;
  memory::desc plainWeights_;
  memory full_;  // weights
  memory bias_;
  dnnl::convolution_forward::primitive_desc forwardDesc_;
  dnnl::convolution_forward forward_;
  memory forwardWeights_;
  // Made when somebody learns.
  dnnl::convolution_backward_data toSource_;
  memory backwardWeights_;
  dnnl::convolution_backward_weights toWeights_;
  memory weightGradient_;
  memory plainGradient_;
  memory biasGradient_;
};

}  // namespace

std::unique_ptr<Operation> makeConvolving(const NetLayer& layer, const Layout& source, const Layout& target,
                                          const Blocking& blocking) {
  return std::make_unique<Convolving>(layer, source, target, blockBetween(source, target, blocking));
}

}  // namespace jugendstil
