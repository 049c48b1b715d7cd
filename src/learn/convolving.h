// SPDX-License-Identifier: Apache-2.0
// Convolution with gradients to its weights, by oneDNN.
#pragma once

#include <memory>

#include "learn/blocked_layout.h"
#include "learn/net.h"
#include "learn/operation.h"

namespace jugendstil {

// Layouts as blockedLayout() gives them.
std::unique_ptr<Operation> makeConvolving(const NetLayer& layer, const Layout& source, const Layout& target,
                                          const Blocking& blocking);

}  // namespace jugendstil
