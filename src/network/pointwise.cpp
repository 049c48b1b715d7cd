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

namespace {

// Long enough for the product to run at full speed, short enough to divide among threads.
constexpr std::size_t kChunk = 1024;

dnnl::convolution_backward_weights::primitive_desc describeMoments(const dnnl::engine& engine,
                                                                   const memory::desc& a) {
  const auto channels = a.dims()[1];
  const memory::dims one{1, 1};
  const memory::dims zero{0, 0};
  const auto direct = dnnl::algorithm::convolution_direct;
  const dnnl::convolution_forward::desc forward(dnnl::prop_kind::forward_training, direct, a,
                                                openWeights(channels, channels, a.data_type()), a, one, zero,
                                                zero);
  const dnnl::convolution_backward_weights::desc backward(
      direct, a, openWeights(channels, channels, Type::f32), a, one, zero, zero);
  return {backward, engine, dnnl::convolution_forward::primitive_desc(forward, engine)};
}

bool positionsAreRows(const memory::desc& a) {
  return a.data.format_desc.blocking.inner_nblks == 0 && a.data.format_desc.blocking.strides[1] == 1;
}

}  // namespace

SecondMoments::SecondMoments(const dnnl::engine& engine, const memory::desc& activation)
    : channels_(activation.dims()[1]), engine_(engine) {
  if (positionsAreRows(activation)) {
    prepareProducts(activation);
    return;
  }
  const auto description = describeMoments(engine, activation);
  primitive_ = dnnl::convolution_backward_weights(description);
  packed_ = memory(description.diff_weights_desc(), engine_);
  const auto n = static_cast<memory::dim>(channels_);
  plain_ = memory({{n, n, 1, 1}, Type::f32, Tag::oihw}, engine_);
}

void SecondMoments::prepareProducts(const memory::desc& activation) {
  const std::size_t positions = activation.dims()[2] * activation.dims()[3];
  const std::size_t whole = positions / kChunk;
  if (whole > 0) addBatch(0, whole, kChunk, activation.data_type());
  if (positions % kChunk != 0) addBatch(whole * kChunk, 1, positions % kChunk, activation.data_type());
}

void SecondMoments::addBatch(std::size_t first, std::size_t count, std::size_t chunk, Type type) {
  const auto c = static_cast<memory::dim>(channels_);
  const auto k = static_cast<memory::dim>(chunk);
  const auto b = static_cast<memory::dim>(count);
  Batch batch;
  batch.left = memory::desc({b, c, k}, type, memory::dims{k * c, 1, c});
  batch.right = memory::desc({b, k, c}, type, memory::dims{k * c, c, 1});
  const memory::desc target({b, c, c}, Type::f32, Tag::abc);
  batch.product = dnnl::matmul(
      dnnl::matmul::primitive_desc(dnnl::matmul::desc(batch.left, batch.right, target), engine_));
  batch.result = memory(target, engine_);
  batch.offset = first * channels_ * (type == Type::bf16 ? 2 : 4);
  batch.count = count;
  batches_.push_back(std::move(batch));
}

std::vector<float> SecondMoments::run(dnnl::stream& stream, const memory& activation) {
  return batches_.empty() ? byConvolution(stream, activation) : byProducts(stream, activation);
}

std::vector<float> SecondMoments::byProducts(dnnl::stream& stream, const memory& activation) {
  const std::size_t size = channels_ * channels_;
  std::vector<float> sum(size, 0.0F);
  for (Batch& batch : batches_) {
    char* data = static_cast<char*>(activation.get_data_handle()) + batch.offset;
    batch.product.execute(stream, {{DNNL_ARG_SRC, memory(batch.left, engine_, data)},
                                   {DNNL_ARG_WEIGHTS, memory(batch.right, engine_, data)},
                                   {DNNL_ARG_DST, batch.result}});
    stream.wait();
    const auto* parts = static_cast<const float*>(batch.result.get_data_handle());
    const auto rows = static_cast<int>(channels_);
    parallelFor(rows, [&](int r) {
      float* to = &sum[r * channels_];
      for (std::size_t b = 0; b < batch.count; ++b) {
        const float* from = parts + b * size + r * channels_;
        for (std::size_t i = 0; i < channels_; ++i) to[i] += from[i];
      }
    });
  }
  return sum;
}

std::vector<float> SecondMoments::byConvolution(dnnl::stream& stream, const memory& activation) {
  primitive_.execute(
      stream,
      {{DNNL_ARG_SRC, activation}, {DNNL_ARG_DIFF_DST, activation}, {DNNL_ARG_DIFF_WEIGHTS, packed_}});
  dnnl::reorder(packed_, plain_).execute(stream, packed_, plain_);
  stream.wait();
  const auto* p = static_cast<const float*>(plain_.get_data_handle());
  return {p, p + channels_ * channels_};
}

}  // namespace jugendstil
