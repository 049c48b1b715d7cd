// SPDX-License-Identifier: Apache-2.0
// Layers that have nothing to learn.
#pragma once

#include <memory>

#include "learn/net.h"
#include "learn/operation.h"

namespace jugendstil {

// Twice the size: linear between the middles of the old values and level beyond the outermost, or each value
// four times, or once, at its block's corner, and zeros. Only the first has a backward pass.
std::unique_ptr<Operation> makeEnlarging(const NetLayer& layer, const Layout& source, const Layout& target);

// Two activations added. Its gradient goes to both as it is: it has no backward pass.
std::unique_ptr<Operation> makeAdding(const NetLayer& layer, const Layout& layout);

// Each value's hyperbolic tangent. It has no backward pass.
std::unique_ptr<Operation> makeBounding(const Layout& layout);

}  // namespace jugendstil
