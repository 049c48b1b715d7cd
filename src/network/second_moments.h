// SPDX-License-Identifier: Apache-2.0
// Sums of products of an activation's channels.
#pragma once

#include <vector>

#include "network/kernels.h"

namespace jugendstil {

// Sums over positions of the products of channels, C x C: matrix products over chunks of positions, each by
// one thread, summed in their order, so that the result is the same for any number of threads. (The library's
// backward pass of a 1x1 convolution with respect to its weights is as quick, and its sums hang on how many
// threads share them.) Throws Error where a product fails.
std::vector<float> secondMoments(const Buffer& activation);

}  // namespace jugendstil
