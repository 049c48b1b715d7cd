// SPDX-License-Identifier: Apache-2.0
// Contact sheets: pictures in rows with captions.
#pragma once

#include <string>
#include <vector>

#include "image/image.h"

namespace jugendstil {

struct SheetCell {
  Image picture;        // empty leaves the place blank
  std::string caption;  // in as many lines as it needs
  std::string note;     // a quieter line below, such as a file's name: its end where it is too long
};

struct SheetOptions {
  std::string title;
  int columns = 3;
  int cellWidth = 400;  // pixels; pictures are fitted into cellWidth x cellHeight
  int cellHeight = 300;
};

// A sheet on warm grey. Pictures are reduced in linear light and never enlarged. Throws Error where no font
// is installed that can draw the captions.
Image contactSheet(const std::vector<SheetCell>& cells, const SheetOptions& options);

}  // namespace jugendstil
