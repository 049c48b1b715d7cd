// SPDX-License-Identifier: Apache-2.0
#include "base/folder_lock.h"

#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::TemporaryFolder;

TEST(FolderLock, OneAtATime) {
  const TemporaryFolder folder;
  {
    const FolderLock lock(folder / "work");
    EXPECT_THROW(FolderLock(folder / "work"), Error);
    EXPECT_NO_THROW(FolderLock(folder / "other"));
  }
  EXPECT_NO_THROW(FolderLock(folder / "work"));
}

TEST(FolderLock, TheDeadHoldNone) {
  const TemporaryFolder folder;
  int ready[2];
  ASSERT_EQ(pipe(ready), 0);
  const pid_t child = fork();
  if (child == 0) {
    const FolderLock lock(folder / "work");
    [[maybe_unused]] const auto told = write(ready[1], "x", 1);
    pause();
    _exit(0);
  }
  char told = 0;
  ASSERT_EQ(read(ready[0], &told, 1), 1);
  EXPECT_THROW(FolderLock(folder / "work"), Error);
  kill(child, SIGKILL);
  waitpid(child, nullptr, 0);
  EXPECT_NO_THROW(FolderLock(folder / "work"));
  close(ready[0]);
  close(ready[1]);
}

}  // namespace
}  // namespace jugendstil
