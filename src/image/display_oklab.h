// SPDX-License-Identifier: Apache-2.0
// Pictures' colours as the eye takes them.
#pragma once

#include <array>

#include "image/oklab.h"
#include "image/quick_transfer.h"

namespace jugendstil {

// Of three display-encoded sRGB values.
inline Oklab oklabOfDisplay(const float* rgb) {
  return oklabOf({quickToLinear(rgb[0]), quickToLinear(rgb[1]), quickToLinear(rgb[2])});
}

inline Oklab oklabOfDisplay(const std::array<float, 3>& rgb) { return oklabOfDisplay(rgb.data()); }

}  // namespace jugendstil
