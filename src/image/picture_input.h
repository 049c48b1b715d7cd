// SPDX-License-Identifier: Apache-2.0
// Picture files read by a helper; for src/image only.
#pragma once

#include <OpenImageIO/imageio.h>

#include <cstddef>
#include <filesystem>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "helper/helper.h"
#include "image/image.h"

namespace jugendstil {

// A picture file that is read, in a process of its own. Its first picture has pixels and no more than a
// gigapixel.
class PictureInput {
 public:
  // Throws Error where it is missing, damaged, no picture, or brings its reader down; DiskError.
  explicit PictureInput(const std::filesystem::path& path);

  const OIIO::ImageSpec& spec() const { return spec_; }
  bool linear() const { return linear_; }  // values are linear light: OpenEXR

  // All pixels, the first `channels` of each, in that type. Throws Error where the file is cut short or
  // larger than the memory.
  std::vector<std::byte> read(int channels, OIIO::TypeDesc type);
  // All pixels as display-encoded sRGB, RGB or RGBA, converted by the file's profile, whose name comes with
  // them; not turned. Throws the same, and where a pixel is not a number.
  Image readDisplay(std::string& profile);
  // All of it without keeping anything.
  void readThrough();

 private:
  void requireMemory(std::size_t bytesPerPixel);
  void eachPart(std::size_t bytes, const std::function<void(std::string_view)>& take);
  [[noreturn]] void failShort() const;

  std::filesystem::path path_;
  Helper helper_;
  OIIO::ImageSpec spec_;
  bool linear_ = false;
};

}  // namespace jugendstil
