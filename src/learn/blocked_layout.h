// SPDX-License-Identifier: Apache-2.0
// The layout of all activations of a net.
#pragma once

#include "network/kernels.h"

namespace jugendstil {

// How many channels stand together where this processor convolves quickest; 0 for all.
int quickestBlock();

// An activation in blocks of so many channels, 0 for all.
Layout blockedLayout(int channels, int width, int height, int block);

}  // namespace jugendstil
