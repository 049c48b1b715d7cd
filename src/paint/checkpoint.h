// SPDX-License-Identifier: Apache-2.0
// A state that a painting can be taken back to.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "base/state_file.h"

namespace jugendstil {

// Pyramid coefficients at half their memory: in steps of 1/8192 of display white, far finer than the steps in
// which they move, from -4 to 4.
class Checkpoint {
 public:
  void keep(std::span<const float> coefficients);
  // As many coefficients as were kept.
  void restore(std::span<float> coefficients) const;

  // Into a file or out of it.
  void exchange(StateExchange& with) { with.values(steps_); }

 private:
  std::vector<std::int16_t> steps_;
};

}  // namespace jugendstil
