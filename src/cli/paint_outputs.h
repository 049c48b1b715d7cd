// SPDX-License-Identifier: Apache-2.0
// What a painting leaves on the disk: the picture, the painting by itself, layers, a chart, and its recipe.
#pragma once

#include <vector>

#include "base/state_file.h"
#include "cli/paint_job.h"
#include "image/picture_file.h"
#include "paint/painter.h"
#include "report/loss_chart.h"

namespace jugendstil::cli {

// What the painting was like on its way.
struct PaintCourse {
  LossChart chart;
  std::vector<int> snapshots;  // after so many steps

  PaintCourse();
  void take(const PaintProgress& progress);
  void exchange(StateExchange& with);
};

// A photo as far as its painting's file depends on it.
struct PhotoFormat {
  Depth depth = Depth::eight;
  bool transparent = false;
};

// Before hours of work: may all that is asked for be written? Throws UsageError.
void requireNames(const PaintJob& job);
void requireFreeOutputs(const PaintJob& job);

// Whether the painting by itself becomes a file beside the picture.
bool keepsBeside(const PaintJob& job, const PhotoFormat& photo);

// What would be written.
void tellOutputs(const PaintJob& job, const PhotoFormat& photo);

void writePaintRecipe(const PaintJob& job, const RecipeResult& result);

// Writes all of a painting of `photo`, whose pixels are given apart. Throws Error.
void writePainting(const PaintJob& job, const Picture& photo, const Image& pixels, const PaintResult& result,
                   PaintCourse& course, double seconds);

// Lays the painting that is known over the photo again where that is all that is new (job.earlier), and says
// so; false where it has to be painted anew.
bool layAgain(const PaintJob& job);

}  // namespace jugendstil::cli
