// SPDX-License-Identifier: Apache-2.0
// The built program while it runs.
#pragma once

#include <sys/types.h>

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "support/program.h"

namespace testing_support {

class Running {
 public:
  // Starts it in a folder; what it says goes to files in `logs`. It is a copy of one that has its libraries
  // loaded already (ready.cpp) where nothing else is to be loaded with it.
  Running(const std::vector<std::string>& words, const std::filesystem::path& folder,
          const std::filesystem::path& logs, const Surroundings& around);

  // Its status, as waitpid() has it, once it has ended.
  std::optional<int> ended();
  int wait();
  void signal(int number) const;

 private:
  std::filesystem::path logs_;
  pid_t process_ = 0;
  bool own_ = false;  // a child of this process, for which waitpid() waits
};

}  // namespace testing_support
