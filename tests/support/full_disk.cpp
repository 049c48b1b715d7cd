// SPDX-License-Identifier: Apache-2.0
#include "support/full_disk.h"

#include <gtest/gtest.h>
#include <sys/resource.h>

#include <csignal>

#include "base/error.h"
#include "support/support.h"

namespace testing_support {

FileSizeLimit::FileSizeLimit(std::uint64_t bytes) {
  std::signal(SIGXFSZ, SIG_IGN);
  rlimit limit{};
  getrlimit(RLIMIT_FSIZE, &limit);
  before_ = limit.rlim_cur;
  limit.rlim_cur = bytes;
  setrlimit(RLIMIT_FSIZE, &limit);
}

FileSizeLimit::~FileSizeLimit() {
  rlimit limit{};
  getrlimit(RLIMIT_FSIZE, &limit);
  limit.rlim_cur = before_;
  setrlimit(RLIMIT_FSIZE, &limit);
}

void expectFullDiskIsTold(const std::string& name,
                          const std::function<void(const std::filesystem::path& file)>& write,
                          std::uint64_t step) {
  const TemporaryFolder folder;
  write(folder / name);
  const auto size = std::filesystem::file_size(folder / name);
  EXPECT_GT(size, step) << name << " is too small to tell anything";
  std::filesystem::remove(folder / name);
  for (std::uint64_t bytes = 0; bytes < size; bytes += step) {
    std::string told;
    try {
      const FileSizeLimit limit(bytes);
      write(folder / name);
      ADD_FAILURE() << name << ": no error with " << bytes << " of " << size << " bytes";
    } catch (const jugendstil::DiskError& e) {
      told = e.what();
      EXPECT_EQ(e.reason(), "File too large");
    }
    EXPECT_NE(told.find(name), std::string::npos) << told;
    EXPECT_TRUE(filesIn(folder.path).empty()) << name << ", " << bytes << ": " << filesIn(folder.path)[0];
    if (testing::Test::HasFailure()) return;
  }
}

}  // namespace testing_support
