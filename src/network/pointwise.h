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

}  // namespace jugendstil
