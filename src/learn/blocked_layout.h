// SPDX-License-Identifier: Apache-2.0
// The layout of all activations of a net.
#pragma once

#include "learn/net.h"
#include "network/kernels.h"

namespace jugendstil {

struct Blocking {
  int channels = 0;      // so many stand together; 0 for all
  bool compact = false;  // a picture's three channels do not fill a block up with nothing
};

// Where this processor convolves quickest. Compact only where the net is to paint alone: there is no way
// back.
Blocking quickestBlocking(const Net& net, bool paintingAlone);

// An activation in such blocks.
Layout blockedLayout(int channels, int width, int height, const Blocking& blocking);

}  // namespace jugendstil
