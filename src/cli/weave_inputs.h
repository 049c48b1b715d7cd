// SPDX-License-Identifier: Apache-2.0
// What a weave is made from, read; and what it will take.
#pragma once

#include <functional>
#include <memory>
#include <string>

#include "image/depth.h"
#include "image/image.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "paint/regions.h"
#include "weave/recipe.h"
#include "weave/weave.h"

namespace jugendstil::cli {

struct WeaveFiles {
  WeaveInputs weave;
  // In its place along a photo: references are the swatches.
  PaintInputs paint;
  PaintSettings settings;
  Depth depth = Depth::eight;
  std::shared_ptr<const Metadata> metadata;  // of a photo, filled or woven along
  Image transparent;                         // a filled picture, where it has alpha

  bool alongPhoto() const { return !paint.photo.empty(); }
};

// Reads and checks all of a recipe's files and fills in their checksums. Throws Error and UsageError that
// name the file.
WeaveFiles readWeave(WeaveRecipe& recipe, bool quiet);

// The piece, RGB. Progress is told from 0 to 1 and may throw Stopped.
Image wovenFrom(const WeaveFiles& files, const std::function<void(double)>& progress);

// The result's size, in pixels.
Size sizeOf(const WeaveFiles& files);

// What it takes: time, in that of a pixel of a piece that is only grown; and the bytes held at the most.
struct WeaveCost {
  double work = 0;
  double bytes = 0;
};
WeaveCost costOf(const WeaveFiles& files);

}  // namespace jugendstil::cli
