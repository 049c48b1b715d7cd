// SPDX-License-Identifier: Apache-2.0
// Short films that any page or message shows: GIF.
#pragma once

#include <filesystem>
#include <functional>

#include "image/image.h"

namespace jugendstil {

// Writes frames 0 to count - 1 as an endless GIF, atomically; all of them RGB and of one size, of at most
// 65535 pixels a side. Throws Error: another size, disk full.
void writeGif(const std::filesystem::path& path, int count, int framesPerSecond,
              const std::function<Image(int)>& frame);

}  // namespace jugendstil
