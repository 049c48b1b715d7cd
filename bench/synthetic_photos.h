// SPDX-License-Identifier: Apache-2.0
// Photos with nothing in them but light.
#pragma once

#include "image/image.h"

namespace bench {

inline constexpr int kSyntheticPhotos = 8;

// Three ramps (down, across, along the diagonal), then soft blobs, each photo with its own.
jugendstil::Image syntheticPhoto(int number, int width, int height);

}  // namespace bench
