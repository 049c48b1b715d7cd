// SPDX-License-Identifier: Apache-2.0
// Files as OpenImageIO reads and writes them through our own hands; for src/image only. The library opens no
// name itself then, so that every name will do (it takes a ? for arguments), and no writer fails unheard or
// ends the program.
#pragma once

#include <OpenImageIO/filesystem.h>

#include <filesystem>
#include <optional>
#include <string>

#include "base/error.h"
#include "base/file.h"

namespace jugendstil {

// The first failure is kept.
class PictureStream : public OIIO::Filesystem::IOProxy {
 public:
  // Throws Error where the file cannot be opened.
  PictureStream(const std::filesystem::path& path, File::Mode mode);

  const char* proxytype() const override { return "jugendstil"; }
  std::size_t read(void* to, std::size_t size) override;
  std::size_t pread(void* to, std::size_t size, std::int64_t offset) override;
  std::size_t write(const void* from, std::size_t size) override;
  std::size_t pwrite(const void* from, std::size_t size, std::int64_t offset) override;
  std::size_t size() const override;

  // The system's reason, where reading or writing failed.
  const std::optional<std::string>& failure() const { return failure_; }

 private:
  File file_;
  std::optional<std::string> failure_;
};

}  // namespace jugendstil
