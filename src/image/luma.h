// SPDX-License-Identifier: Apache-2.0
// The lightness of display values by their weighted sum.
#pragma once

namespace jugendstil {

// By sRGB's own primaries (ITU-R BT.709).
inline float lumaOf(const float* rgb) { return 0.2126F * rgb[0] + 0.7152F * rgb[1] + 0.0722F * rgb[2]; }

// By those of older television (ITU-R BT.601), as optical flow and structural similarity were fitted with.
inline float lumaBt601Of(const float* rgb) { return 0.299F * rgb[0] + 0.587F * rgb[1] + 0.114F * rgb[2]; }

}  // namespace jugendstil
