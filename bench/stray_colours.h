// SPDX-License-Identifier: Apache-2.0
// Colours that a reference does not have.
#pragma once

#include "image/image.h"

namespace bench {

// The share of a picture's pixels (every eighth) that are farther than 8 in CIE Lab from all of 12,000 pixels
// of a reference. RGB, display-encoded.
double strayColours(const jugendstil::Image& picture, const jugendstil::Image& reference);

}  // namespace bench
