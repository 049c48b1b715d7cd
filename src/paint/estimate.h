// How long a painting will take, from a few steps of it.
#pragma once

#include "paint/painter.h"

namespace jugendstil {

// Seconds for the whole painting with these inputs, found by painting a few small steps (about a second's
// work). Usually within a quarter of the truth on a machine with nothing else to do.
double estimateSeconds(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings);

}  // namespace jugendstil
