// SPDX-License-Identifier: Apache-2.0
// Frames through a pipe, kept as a file while the film is made.
#pragma once

#include <filesystem>
#include <optional>
#include <string>

#include "base/atomic_file.h"

namespace jugendstil {

// For "-", standard input is copied to a temporary file beside the work folder, so that shots can be looked
// at before they are graded and frames gone back to; the file goes with the object. Any other name is left as
// it is.
class SpooledClip {
 public:
  // Throws Error: not YUV4MPEG2, nothing came; DiskError: standard input fails, disk full.
  SpooledClip(const std::string& name, const std::filesystem::path& workFolder);

  const std::string& name() const { return name_; }

 private:
  std::string name_;
  std::optional<AtomicFile> file_;  // never committed
};

}  // namespace jugendstil
