// SPDX-License-Identifier: Apache-2.0
// Layers that have nothing to learn.
#pragma once

#include <memory>

#include "learn/operation.h"

namespace jugendstil {

// Twice the size, linear between the middles of the old values and level beyond the outermost.
std::unique_ptr<Operation> makeEnlarging(const Layout& source, const Layout& target);

// Two activations added. Its gradient goes to both as it is: it has no backward pass.
std::unique_ptr<Operation> makeAdding(const Layout& layout);

}  // namespace jugendstil
