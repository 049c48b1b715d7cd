// SPDX-License-Identifier: Apache-2.0
// Convolutions whose source goes on by reflection.
#pragma once

#include <memory>

#include "learn/net.h"
#include "learn/operation.h"

namespace jugendstil {

// The source's layout with room for what is mirrored.
Layout paddedLayout(const NetLayer& layer, const Layout& source);

// `convolving` takes that. The outermost values are what is reflected about: they are not repeated. It has no
// backward pass. Throws Error where the source is no larger than what is to be mirrored.
std::unique_ptr<Operation> makeMirroring(const NetLayer& layer, const Layout& source,
                                         std::unique_ptr<Operation> convolving);

}  // namespace jugendstil
