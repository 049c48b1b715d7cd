// SPDX-License-Identifier: Apache-2.0
// How oneDNN computes one convolution with what follows it.
#pragma once

#include <cstddef>
#include <dnnl.hpp>

#include "network/chain.h"

namespace jugendstil {

// The layouts of source and target may be left open.
struct ConvolutionShape {
  dnnl::memory::desc source;
  dnnl::memory::desc weights;
  dnnl::memory::desc bias;
  dnnl::memory::desc target;
  dnnl::memory::dims before;  // padding
  dnnl::memory::dims after;
  dnnl::memory::dim stride = 1;
  float negativeSlope = 0;
  bool adds = false;  // to what stands in the target
};

// Both want their scratchpad given.
struct ConvolutionPair {
  dnnl::convolution_forward::primitive_desc forward;         // and what is added, and ReLU
  dnnl::convolution_backward_data::primitive_desc backward;  // in the layouts of the forward one
};

// Whether Winograd's minimal filtering is worth its transformations in a 3x3 layer of so many channels and
// positions.
bool worthTransforming(dnnl::memory::dim inputs, dnnl::memory::dim outputs, double positions);

// The faster of the direct algorithm and, in f32 and where the library has it for this processor, Winograd's
// minimal filtering (Lavin and Gray, "Fast algorithms for convolutional neural networks", 2016), which takes
// less than half the multiplications; both agree to 1e-5 of an activation's norm. Depends on the shape alone
// and not on times, so that a painting comes out the same each time. Throws dnnl::error where there is none.
ConvolutionPair chooseConvolution(const ConvolutionShape& shape, const dnnl::engine& engine);

// About as many bytes as the pair wants for itself in f32 at so many positions, with the threads set now.
std::size_t scratchpadFor(const Convolution& layer, double positions);

}  // namespace jugendstil
