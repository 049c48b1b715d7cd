// SPDX-License-Identifier: Apache-2.0
// Pictures in layers that other paint programs, or this one, have written: OpenRaster.
#pragma once

#include <filesystem>
#include <vector>

#include "image/layered_file.h"

namespace jugendstil {

struct LayeredPicture {
  int width = 0;
  int height = 0;
  std::vector<PictureLayer> layers;  // from the lowest up; transparent where a layer has nothing
  Depth depth = Depth::eight;        // of the deepest of them
};

// Reads an OpenRaster file. Groups whose layers look as they would without the group are taken apart. Throws
// Error: missing, no such file or damaged, a mode of blending that there is none of here, a group with an
// opacity or mode of its own.
LayeredPicture readOpenRaster(const std::filesystem::path& path);

}  // namespace jugendstil
