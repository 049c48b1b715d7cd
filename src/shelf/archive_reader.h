// SPDX-License-Identifier: Apache-2.0
// An exported shelf that came from elsewhere, unpacked by a helper.
#pragma once

#include <cstddef>
#include <filesystem>
#include <string>

#include "helper/helper.h"

namespace jugendstil {

// As ZipReader does it, and throws as it and Helper do.
class ArchiveReader {
 public:
  explicit ArchiveReader(const std::filesystem::path& archive);

  // Goes to the next file and gives its name; empty at the end.
  std::string next();
  // The content of the file that next() named. Throws Error where it is larger than maxBytes.
  std::string content(std::size_t maxBytes);

 private:
  std::string ask(const std::string& question);

  double patience_;
  Helper helper_;
};

}  // namespace jugendstil
