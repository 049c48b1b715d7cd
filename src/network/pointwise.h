// SPDX-License-Identifier: Apache-2.0
// 1x1 convolutions as matrix products over all positions of an activation, in its own layout.
#pragma once

#include <dnnl.hpp>
#include <span>
#include <vector>

namespace jugendstil {

// out = W in + b at every position; the weights change from call to call.
class Pointwise {
 public:
  // Either description may leave its format open ("any"); what was chosen is source() and target().
  // With accumulate the product is added to what is in the target.
  Pointwise(const dnnl::engine& engine, const dnnl::memory::desc& source, const dnnl::memory::desc& target,
            bool accumulate);

  dnnl::memory::desc source() const { return description_.src_desc(); }
  dnnl::memory::desc target() const { return description_.dst_desc(); }

  // Weights outputs x inputs, offset of outputs values.
  void run(dnnl::stream& stream, const dnnl::memory& from, const dnnl::memory& to,
           std::span<const float> weights, std::span<const float> offset);

 private:
  dnnl::engine engine_;
  dnnl::convolution_forward::primitive_desc description_;
  dnnl::convolution_forward primitive_;
  dnnl::memory plain_;
  dnnl::memory packed_;
  dnnl::memory offset_;
};

// The second moments of an activation's channels. Where positions are rows in memory (nhwc) it is a batch of
// matrix products over chunks of positions; in blocked layouts it is the backward pass of a 1x1 convolution
// with respect to its weights, fed with the same activation twice.
class SecondMoments {
 public:
  SecondMoments(const dnnl::engine& engine, const dnnl::memory::desc& activation);

  // Sums over positions of the products of channels, C x C.
  std::vector<float> run(dnnl::stream& stream, const dnnl::memory& activation);

 private:
  struct Batch {
    dnnl::matmul product;
    dnnl::memory::desc left;
    dnnl::memory::desc right;
    dnnl::memory result;
    std::size_t offset = 0;  // bytes into the activation
    std::size_t count = 0;
  };
  void prepareProducts(const dnnl::memory::desc& activation);
  void addBatch(std::size_t first, std::size_t count, std::size_t chunk, dnnl::memory::data_type type);
  std::vector<float> byProducts(dnnl::stream& stream, const dnnl::memory& activation);
  std::vector<float> byConvolution(dnnl::stream& stream, const dnnl::memory& activation);

  std::size_t channels_;
  dnnl::engine engine_;
  std::vector<Batch> batches_;  // empty in blocked layouts
  dnnl::convolution_backward_weights primitive_;
  dnnl::memory packed_;
  dnnl::memory plain_;
};

}  // namespace jugendstil
