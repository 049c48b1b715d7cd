// SPDX-License-Identifier: Apache-2.0
// What a painting says of places that it has not seen yet.
#pragma once

#include "image/image.h"

namespace jugendstil {

struct Continued {
  Image picture;  // RGB
  Image sure;     // 1 channel: 0 where nothing known is near
};

// Carries the colours of a painting on into the parts of its photo that it does not know: around each pixel
// the painting is taken for a linear function of the photo's colour, fitted where it is known (the local
// linear model of the guided filter; He, Sun & Tang 2010). `photo` and `painted` are RGB, `known` has 1
// channel; all of one size.
Continued continued(const Image& photo, const Image& painted, const Image& known);

}  // namespace jugendstil
