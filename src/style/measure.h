// SPDX-License-Identifier: Apache-2.0
// How far a band's activations are from those of the references.
#pragma once

#include <cstdint>

#include "base/state_file.h"
#include "network/evaluator.h"

namespace jugendstil {

// One band's style term: 0 where the statistics agree, near 1 where they have nothing in common.
class Measure {
 public:
  virtual ~Measure() = default;

  // The term's value for the evaluator's last forward pass. The step picks what is drawn at random.
  virtual double value(Evaluator& picture, std::uint64_t step) = 0;

  // Adds weight times the gradient of what value() last returned, as often as it is called.
  virtual void addGradient(double weight, BandGradient& gradient) const = 0;

  // What it remembers from step to step, into a file or out of it.
  virtual void exchange(StateExchange&) {}
};

}  // namespace jugendstil
