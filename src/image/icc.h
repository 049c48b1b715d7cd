// Colour profiles (ICC.1) through LittleCMS.
#pragma once

#include <string>
#include <string_view>

#include "image/image.h"

namespace jugendstil {

// The bytes of an sRGB profile; the same bytes at every call.
std::string srgbProfile();

// A short name out of the profile, or "unreadable profile".
std::string profileName(std::string_view icc);

// RGB(A) or grey values in the profile's space to display-encoded sRGB with perceptual intent and black
// point compensation, computed in float; colours outside sRGB land outside [0, 1]. A profile that is
// unreadable or of another colour space than the picture (a CMYK profile left on converted pixels) leaves
// the picture as it is and returns false.
bool convertToSrgb(Image& image, std::string_view icc);

}  // namespace jugendstil
