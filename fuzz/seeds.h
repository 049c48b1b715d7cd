// SPDX-License-Identifier: Apache-2.0
// Sound files of every kind that the program reads, small, to be damaged.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace fuzz {

struct Kind {
  std::string label;
  std::string name;                                // under which it is read, in the folder of the run
  std::vector<std::string> files;                  // contents
  std::vector<std::string> beside;                 // sound files that the commands name too
  std::vector<std::vector<std::string>> commands;  // one of them is run
};

// Makes them in a folder, with the program's own writers and with the program.
std::vector<Kind> seedsIn(const std::filesystem::path& folder);

}  // namespace fuzz
