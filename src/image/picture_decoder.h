// SPDX-License-Identifier: Apache-2.0
// Picture files as OpenImageIO decodes them; what helpers do, for src/image only. Others ask a PictureInput.
#pragma once

#include <OpenImageIO/imageio.h>

#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>

#include "image/picture_stream.h"

namespace jugendstil {

// A picture file that is read. Its first picture has pixels and no more than a gigapixel.
class PictureDecoder {
 public:
  // Looks the file over for damage that decoders pass over in silence, and opens it. Throws Error, DiskError.
  explicit PictureDecoder(const std::filesystem::path& path);

  const OIIO::ImageSpec& spec() const { return input_->spec(); }
  bool linear() const;  // values are linear light: OpenEXR

  // Rows [first, first + count) as they lie in memory.
  using Strip = std::function<void(int first, int count, const std::byte* rows)>;
  // All rows from the top, the first `channels` of each pixel, in that type. Throws Error where the file is
  // cut short.
  void read(int channels, OIIO::TypeDesc type, const Strip& take);

 private:
  bool readStrip(int first, int count, int channels, OIIO::TypeDesc type, void* to);
  // Throws Error that says from which row on the picture cannot be read.
  [[noreturn]] void failReading();

  std::filesystem::path path_;
  PictureStream stream_;
  std::string jpeg_;
  std::optional<OIIO::Filesystem::IOMemReader> memory_;  // over it
  std::unique_ptr<OIIO::ImageInput> input_;
};

}  // namespace jugendstil
