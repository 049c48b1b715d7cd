// SPDX-License-Identifier: Apache-2.0
// The readers of files and words from elsewhere, each as a function of any bytes at all.
#pragma once

#include <filesystem>
#include <string_view>
#include <vector>

namespace fuzz {

struct Target {
  const char* name;
  const char* group;  // text, binary
  bool helpers;       // whether libraries read it, in helpers
  void (*read)(std::string_view bytes, const std::filesystem::path& folder);  // the folder is its own
};

const std::vector<Target>& targets();

// Reads; an Error is what the reader is for, and nothing else may be thrown.
void readOnce(const Target& target, std::string_view bytes, const std::filesystem::path& folder);

}  // namespace fuzz
