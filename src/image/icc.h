// SPDX-License-Identifier: Apache-2.0
// Colour profiles (ICC.1) through LittleCMS.
#pragma once

#include <memory>
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

// A profile's space and sRGB, both ways, for pictures that keep their profile. Relative colorimetric with
// black point compensation, in float, so that going there and back changes nothing that shows.
class ProfilePair {
 public:
  // An empty, unreadable or other than RGB profile, and one that is sRGB under another name, is plain().
  explicit ProfilePair(std::string_view icc);

  // Nothing to convert: values are display-encoded sRGB as they stand.
  bool plain() const { return toSrgb_ == nullptr; }
  // count pixels of three floats, in place.
  void toSrgb(float* rgb, int count) const;
  void fromSrgb(float* rgb, int count) const;

 private:
  std::shared_ptr<void> toSrgb_;
  std::shared_ptr<void> fromSrgb_;
};

}  // namespace jugendstil
