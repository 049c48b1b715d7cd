// SPDX-License-Identifier: Apache-2.0
// A disk that is full at every place of a file.
#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>

namespace testing_support {

// While it lives no file of this process may become larger.
class FileSizeLimit {
 public:
  explicit FileSizeLimit(std::uint64_t bytes);
  ~FileSizeLimit();
  FileSizeLimit(const FileSizeLimit&) = delete;
  FileSizeLimit& operator=(const FileSizeLimit&) = delete;

 private:
  std::uint64_t before_;
};

// Calls write(file) with a limit at every `step` bytes of what it writes without one: each time it has to
// throw a DiskError that names the file and the system's reason, and to leave nothing. `name` is the file's.
void expectFullDiskIsTold(const std::string& name,
                          const std::function<void(const std::filesystem::path& file)>& write,
                          std::uint64_t step = 4096);

}  // namespace testing_support
