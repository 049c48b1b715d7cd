// SPDX-License-Identifier: Apache-2.0
// Convolution with gradients to its weights, by oneDNN.
#pragma once

#include <memory>

#include "learn/net.h"
#include "learn/operation.h"

namespace jugendstil {

std::unique_ptr<Operation> makeConvolving(const NetLayer& layer, const Layout& source, const Layout& target);

}  // namespace jugendstil
