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

// RGB(A) or grey values in a profile's space to display-encoded sRGB with perceptual intent and black point
// compensation, computed in float; colours outside sRGB land outside [0, 1]. LittleCMS reads the profile: for
// helpers (helper/helper.h) where it is a file's.
class SrgbConversion {
 public:
  // For pictures of so many channels, 1, 3 or 4. An empty profile, an unreadable one or one of another colour
  // space than the picture (a CMYK profile left on converted pixels) converts nothing.
  SrgbConversion(std::string_view icc, int channels);

  bool converts() const { return transform_ != nullptr; }
  // Grey becomes RGB where it is converted.
  void apply(Image& image) const;

 private:
  std::shared_ptr<void> transform_;
};

// A profile's space and sRGB, both ways, for pictures that keep their profile. Relative colorimetric with
// black point compensation, in float, so that going there and back changes nothing that shows. A helper reads
// the profile and does the work. One thread at a time may convert; others wait.
class ProfilePair {
 public:
  // An empty, unreadable or other than RGB profile, and one that is sRGB under another name, is plain().
  // `about`: the file that it stands in. Throws Error where the profile brings its reader down.
  ProfilePair(std::string_view icc, const std::string& about);
  ~ProfilePair();
  ProfilePair(const ProfilePair&) = delete;
  ProfilePair& operator=(const ProfilePair&) = delete;

  // Nothing to convert: values are display-encoded sRGB as they stand.
  bool plain() const { return converter_ == nullptr; }
  // Whether it can be read at all: others should not be written into a new file.
  bool sound() const { return sound_; }
  // Rows of RGB(A), in place; alpha stays.
  void toSrgb(Image& rows) const;
  void fromSrgb(Image& rows) const;

 private:
  struct Converter;
  std::unique_ptr<Converter> converter_;
  bool sound_ = false;
};

}  // namespace jugendstil
