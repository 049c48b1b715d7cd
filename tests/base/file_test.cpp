// SPDX-License-Identifier: Apache-2.0
#include "base/file.h"

#include <gtest/gtest.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>

#include "base/checksum.h"
#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

TEST(File, ReadFileHasALimit) {
  const TemporaryFolder folder;
  writeContent(folder / "a.txt", std::string(100, 'x'));
  EXPECT_THROW(readFile(folder / "a.txt", 50), Error);
  EXPECT_EQ(readFile(folder / "a.txt", 100).size(), 100U);
}

TEST(File, MissingAndFolderAreNoFaultOfTheDisk) {
  const TemporaryFolder folder;
  for (const auto& path : {folder / "none", folder.path}) {
    try {
      readFile(path, 100);
      ADD_FAILURE() << path;
    } catch (const DiskError& e) {
      ADD_FAILURE() << e.what();
    } catch (const Error&) {
    }
  }
}

// A read that fails is not the end of the file: this one's first page belongs to nobody.
TEST(File, AReadErrorIsNotTheEnd) {
  EXPECT_THROW(readFile("/proc/self/mem", 1000), DiskError);
  EXPECT_THROW(fileChecksum("/proc/self/mem"), DiskError);
  try {
    readFile("/proc/self/mem", 1000);
  } catch (const DiskError& e) {
    EXPECT_EQ(e.reason(), "Input/output error");
    EXPECT_EQ(std::string(e.what()), "/proc/self/mem: cannot be read: Input/output error");
  }
}

TEST(File, PiecesAreReadAndWrittenWhereTheyAreAskedFor) {
  const TemporaryFolder folder;
  File file(folder / "a", File::Mode::create);
  file.write("0123456789");
  file.writeAt("xy", 3);
  file.write("z");
  EXPECT_EQ(file.size(), 11U);
  std::array<char, 20> room{};
  EXPECT_EQ(file.readAt(room, 2), 9U);
  EXPECT_EQ(std::string(room.data(), 9), "2xy56789z");
  file.close();
  EXPECT_THROW(File(folder / "a", File::Mode::create), DiskError);
  File more(folder / "a", File::Mode::append);
  more.write("!");
  more.close();
  EXPECT_EQ(contentOf(folder / "a"), "012xy56789z!");
}

TEST(File, AFullDiskIsTold) {
  const TemporaryFolder folder;
  const pid_t child = fork();
  if (child == 0) {
    signal(SIGXFSZ, SIG_IGN);
    const rlimit limit{4096, 4096};
    setrlimit(RLIMIT_FSIZE, &limit);
    int code = 1;
    try {
      File file(folder / "a", File::Mode::create);
      file.write(std::string(5000, 'x'));
    } catch (const DiskError& e) {
      code = e.reason() == "File too large" ? 0 : 2;
    }
    _exit(code);
  }
  int status = 0;
  waitpid(child, &status, 0);
  EXPECT_EQ(WEXITSTATUS(status), 0);
}

TEST(Checksum, OfLargeFilesIsThatOfTheirBytes) {
  const TemporaryFolder folder;
  const std::string bytes(300000, 'q');
  writeContent(folder / "a", bytes);
  EXPECT_EQ(fileChecksum(folder / "a"), checksum(bytes));
  EXPECT_EQ(fileEndsChecksum(folder / "a"), checksum(bytes));
}

}  // namespace
}  // namespace jugendstil
