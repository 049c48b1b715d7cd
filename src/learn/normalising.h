// SPDX-License-Identifier: Apache-2.0
// Instance normalisation (Ulyanov, Vedaldi & Lempitsky 2016): each channel to mean 0 and deviation 1 over the
// picture, then scaled and shifted, and rectified where the layer says so.
#pragma once

#include <memory>

#include "learn/net.h"
#include "learn/operation.h"

namespace jugendstil {

// Also layers that only scale and shift, which have no backward pass.
std::unique_ptr<Operation> makeNormalising(const NetLayer& layer, const Layout& layout);

}  // namespace jugendstil
