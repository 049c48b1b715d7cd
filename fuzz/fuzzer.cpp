// SPDX-License-Identifier: Apache-2.0
// libFuzzer's side: JUGENDSTIL_FUZZ names the target.
#include <unistd.h>

#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <string>

#include "helper/helper.h"
#include "targets.h"

namespace {

namespace fs = std::filesystem;

const fuzz::Target& chosen() {
  const char* name = std::getenv("JUGENDSTIL_FUZZ");
  for (const fuzz::Target& target : fuzz::targets()) {
    if (name != nullptr && std::string(name) == target.name) return target;
  }
  std::fputs("JUGENDSTIL_FUZZ names no target\n", stderr);
  std::exit(1);
}

// In memory where there is such a place.
fs::path makeFolder() {
  const fs::path memory = "/dev/shm";
  const fs::path base = fs::is_directory(memory) ? memory : fs::temp_directory_path();
  const fs::path folder = base / ("jugendstil-fuzz-" + std::to_string(getpid()));
  fs::create_directories(folder);
  static const std::string name = folder.string();
  std::atexit([] { fs::remove_all(name); });
  return folder;
}

}  // namespace

extern "C" int LLVMFuzzerInitialize(int*, char***) {
  if (chosen().helpers) jugendstil::startHelpers();
  return 0;
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const fuzz::Target& target = chosen();
  static const fs::path folder = makeFolder();
  fuzz::readOnce(target, {reinterpret_cast<const char*>(data), size}, folder);
  return 0;
}
