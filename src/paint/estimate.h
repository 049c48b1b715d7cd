// SPDX-License-Identifier: Apache-2.0
// How long a painting will take, from what a step of it takes on this machine.
#pragma once

#include "paint/painter.h"

namespace jugendstil {

// Seconds that one step takes for each pixel of the canvas, found by painting a few small steps (about a
// second's work).
double measuredRate(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings);

// All the pixel steps of a painting with so many references, getting its levels ready included. Times the
// rate these are the seconds that it takes, usually within a quarter on a machine with nothing else to do.
double wholeWork(const PaintPlan& plan, std::size_t references);

// Of all parts together.
std::size_t referenceCount(const PaintInputs& inputs);

// The two together.
double estimateSeconds(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings);

}  // namespace jugendstil
