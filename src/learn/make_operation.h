// SPDX-License-Identifier: Apache-2.0
// Layers by their kind.
#pragma once

#include <memory>

#include "learn/blocked_layout.h"
#include "learn/net.h"
#include "learn/operation.h"

namespace jugendstil {

// For an activation of such a layout, which has such blocks.
std::unique_ptr<Operation> makeOperation(const NetLayer& layer, const Layout& source,
                                         const Blocking& blocking);

}  // namespace jugendstil
