// SPDX-License-Identifier: Apache-2.0
#include "image/picture_stream.h"

namespace jugendstil {

PictureStream::PictureStream(const std::filesystem::path& path, File::Mode mode)
    : IOProxy("", mode == File::Mode::read ? Read : Write), file_(path, mode) {}

std::size_t PictureStream::read(void* to, std::size_t size) {
  const std::size_t got = pread(to, size, m_pos);
  m_pos += got;
  return got;
}

std::size_t PictureStream::pread(void* to, std::size_t size, std::int64_t offset) {
  try {
    return file_.readAt({static_cast<char*>(to), size}, offset);
  } catch (const DiskError& e) {
    if (!failure_) failure_ = e.reason();
    return 0;
  }
}

std::size_t PictureStream::write(const void* from, std::size_t size) {
  const std::size_t put = pwrite(from, size, m_pos);
  m_pos += put;
  return put;
}

std::size_t PictureStream::pwrite(const void* from, std::size_t size, std::int64_t offset) {
  try {
    file_.writeAt({static_cast<const char*>(from), size}, offset);
    return size;
  } catch (const DiskError& e) {
    if (!failure_) failure_ = e.reason();
    return 0;
  }
}

std::size_t PictureStream::size() const { return file_.size(); }

}  // namespace jugendstil
