// SPDX-License-Identifier: Apache-2.0
// Paintings over their photo again, each with its strength, blend mode and mask, without painting anew.
#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "image/image.h"
#include "image/layer.h"
#include "image/stored_picture.h"

namespace jugendstil {

// What is drawn over a mask.
struct MaskStrokes {
  std::filesystem::path file;  // an SVG drawing or a grey picture, of the photo's format
  double opacity = 1;
  bool away = true;  // takes the painting away where it is drawn; else brings it back
};

// Where a painting shows; everywhere where nothing is named.
struct LaidMask {
  std::filesystem::path file;          // as of strokes; empty: white
  std::vector<MaskStrokes> strokes{};  // one after the other
  double feather = 0;                  // pixels of the photo
};

// The mask itself for a photo of that size; none where it is white everywhere. `own` is what it begins with
// (1 channel of that size; empty: white): strokes also bring back what that hides. Throws Error for files
// that cannot be read or have another format.
std::optional<Image> maskOf(const LaidMask& asked, int width, int height, Image own = {});

struct LaidPainting {
  std::filesystem::path file;  // a picture of the photo's format, of any size; transparency counts as mask
  double opacity = 1;
  BlendMode blend = BlendMode::normal;
  LaidMask mask;
};

// What becomes of a layer of a file; as it is there where nothing is said.
struct LayerChange {
  std::string name;
  std::optional<double> opacity{};
  std::optional<BlendMode> blend{};
  LaidMask mask;  // begins with the transparency that it has
};

struct LaidPicture {
  int width = 0;
  int height = 0;
};

// Lays the paintings over the photo in their order and writes the result, or with a name in .ora the photo
// and each painting as layers. The photo's depth, profile, metadata and transparency are kept as the format
// holds them. progress(rows, of) may throw Stopped. Throws Error where a painting has another format than the
// photo, and as reading and writing do.
LaidPicture layOver(const std::filesystem::path& photo, const std::vector<LaidPainting>& paintings,
                    const std::filesystem::path& target, const Encoding& encoding = {},
                    const std::function<void(int, int)>& progress = {});

// Changes layers of an OpenRaster file by their names and writes it with them, or with another name than .ora
// what they look like together. Throws UsageError where there is no such layer, or two of that name; Error as
// readOpenRaster() and writing do.
LaidPicture layLayers(const std::filesystem::path& file, const std::vector<LayerChange>& changes,
                      const std::filesystem::path& target, const Encoding& encoding = {});

}  // namespace jugendstil
