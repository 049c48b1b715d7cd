// SPDX-License-Identifier: Apache-2.0
// Picture files written; for src/image only.
#pragma once

#include <OpenImageIO/imageio.h>

#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>

#include "base/atomic_file.h"
#include "image/picture_stream.h"

namespace jugendstil {

// Throws Error where the format of this name has no room for so many pixels a side. To be asked before a
// PictureOutput is made: the library's does not survive that it is never opened.
void requireRoom(const std::filesystem::path& target, int width, int height);

// A picture file that is written, beside its target; it takes the target's place at commit(). All throw Error
// or DiskError that names the target.
class PictureOutput {
 public:
  // `extension` (".png") chooses the format.
  PictureOutput(const std::filesystem::path& target, const std::string& extension);
  ~PictureOutput();
  PictureOutput(const PictureOutput&) = delete;
  PictureOutput& operator=(const PictureOutput&) = delete;

  // `append`: a further picture in the same file.
  void open(const OIIO::ImageSpec& spec, bool append = false);
  // Rows from `begin` on, before `end`; of that type, channels as the spec has them or `stride` bytes apart.
  void writeRows(int begin, int end, OIIO::TypeDesc type, const void* rows,
                 OIIO::stride_t stride = OIIO::AutoStride);
  // What is written is all.
  void close();
  // After close(), changes the file, which has a name of its own yet.
  void change(const std::function<void(const std::filesystem::path& file)>& how);
  void commit();

 private:
  bool failed() const;
  [[noreturn]] void fail();

  std::filesystem::path target_;
  AtomicFile file_;
  std::optional<PictureStream> stream_;
  std::unique_ptr<OIIO::ImageOutput> output_;
  int next_ = 0;  // row
  bool closed_ = false;
};

}  // namespace jugendstil
