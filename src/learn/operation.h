// SPDX-License-Identifier: Apache-2.0
// One layer of a net at one size: forward, and backward to what it took and to its parameters.
#pragma once

#include <span>

#include "network/kernels.h"

namespace jugendstil {

// All in 32-bit float. Channels beyond the last one, where a layout has room for them, are 0.
struct ForwardPass {
  std::span<const float> parameters;  // of this layer
  Buffer source;
  Buffer also;  // of a sum
  Buffer target;
  // For normalisations, mean and variance of each channel: those of the source, or those that are given.
  std::span<float> moments;
  bool momentsGiven = false;
};

struct BackwardPass {
  std::span<const float> parameters;
  Buffer source;
  Buffer target;                       // as forward left it
  std::span<const float> moments;      // as forward left them, of the source
  Buffer gradient;                     // with respect to the target; not as it was afterwards
  Buffer sourceGradient;               // is written; no data where nobody asks
  std::span<float> parameterGradient;  // is added to
};

class Operation {
 public:
  virtual ~Operation() = default;
  virtual Layout output() const = 0;
  virtual void forward(const ForwardPass& pass) = 0;
  virtual void backward(const BackwardPass& pass) = 0;
};

}  // namespace jugendstil
