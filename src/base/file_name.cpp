// SPDX-License-Identifier: Apache-2.0
#include "base/file_name.h"

#include "base/words.h"

namespace jugendstil {

std::string extensionOf(const std::filesystem::path& path) { return lowerCase(path.extension().string()); }

}  // namespace jugendstil
