// SPDX-License-Identifier: Apache-2.0
// Pictures in layers, for other paint programs: OpenRaster.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "image/blend.h"
#include "image/image.h"
#include "image/picture_file.h"

namespace jugendstil {

struct PictureLayer {
  std::string name;
  Image image;  // RGB or RGBA, display-encoded sRGB, of the whole picture's size
  BlendMode blend = BlendMode::normal;
  double opacity = 1;
  bool visible = true;
};

// Writes an OpenRaster file (freedesktop.org's "OpenRaster specification", 0.0.6) atomically: the layers from
// the lowest up, the picture as they look together, and a thumbnail. Throws Error: name not ending in .ora,
// no layers, sizes that differ, folder missing, disk full.
void writeOpenRaster(const std::filesystem::path& path, const std::vector<PictureLayer>& layers,
                     const Image& merged, Depth depth);

// Throws UsageError where the name does not end in .ora.
void requireOpenRasterName(const std::filesystem::path& path);

}  // namespace jugendstil
