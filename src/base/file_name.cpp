// SPDX-License-Identifier: Apache-2.0
#include "base/file_name.h"

#include <algorithm>
#include <cctype>

namespace jugendstil {

std::string extensionOf(const std::filesystem::path& path) {
  std::string extension = path.extension().string();
  std::transform(extension.begin(), extension.end(), extension.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return extension;
}

}  // namespace jugendstil
