// SPDX-License-Identifier: Apache-2.0
// Layers by their kind.
#pragma once

#include <memory>

#include "learn/net.h"
#include "learn/operation.h"

namespace jugendstil {

// For an activation of such a layout, in blocks of so many channels, 0 for all.
std::unique_ptr<Operation> makeOperation(const NetLayer& layer, const Layout& source, int block);

}  // namespace jugendstil
