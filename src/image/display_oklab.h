// SPDX-License-Identifier: Apache-2.0
// Pictures' colours as the eye takes them.
#pragma once

#include <array>

#include "image/colour.h"
#include "image/oklab.h"

namespace jugendstil {

// Of three display-encoded sRGB values.
inline Oklab oklabOfDisplay(const float* rgb) {
  return oklabOf({srgbToLinear(rgb[0]), srgbToLinear(rgb[1]), srgbToLinear(rgb[2])});
}

inline Oklab oklabOfDisplay(const std::array<float, 3>& rgb) { return oklabOfDisplay(rgb.data()); }

}  // namespace jugendstil
