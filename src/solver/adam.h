// SPDX-License-Identifier: Apache-2.0
// Adam (Kingma & Ba 2015) over one flat vector of parameters. Our own: its floor belongs to pictures, and the
// parameters are moved range by range without a copy of them all.
#pragma once

#include <cstddef>
#include <span>
#include <vector>

#include "base/state_file.h"

namespace jugendstil {

struct AdamSettings {
  float beta1 = 0.9F;
  float beta2 = 0.95F;
  // The divisor's floor, as a part of the root mean square of the gradient over the range being moved.
  // Adam alone moves a parameter with a tiny, noisy gradient as far as one with a large, steady one; in
  // pictures that hatches the flat parts.
  float floor = 0.2F;
};

class Adam {
 public:
  Adam(std::size_t size, AdamSettings settings);

  // Starts a step: one call, then move() for each range of parameters.
  void beginStep() { ++steps_; }

  // Moves some of the parameters, the first of which is number `begin`, against their gradient. A unit rate
  // moves a parameter with a steady gradient by 1.
  void move(std::span<float> parameters, std::span<const float> gradient, std::size_t begin, float rate);

  // Forgets all that was gathered.
  void reset();

  // All that was gathered, into a file or out of it.
  void exchange(StateExchange& with);

 private:
  AdamSettings settings_;
  int steps_ = 0;
  std::vector<float> first_;
  std::vector<float> second_;
};

}  // namespace jugendstil
