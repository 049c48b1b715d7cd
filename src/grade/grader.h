// SPDX-License-Identifier: Apache-2.0
// Looks put on pictures of any size, strip by strip.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "grade/detail.h"
#include "grade/look.h"
#include "image/layer.h"
#include "image/stored_picture.h"

namespace jugendstil {

inline constexpr int kStripRows = 128;

class Grader {
 public:
  // `reduced` (reducedPicture) of the picture that will be graded; only used where the look changes detail.
  Grader(const Look& look, const Image& reduced);

  // Rows [begin, begin + strip.height) of a picture of that height, in place; alpha is left alone. Strips of
  // any height give the same picture.
  void apply(Image& strip, int begin, int height) const;

 private:
  TableApplier table_;
  std::optional<DetailMap> detail_;
};

// Called with rows done and rows in all; may throw Stopped.
using RowProgress = std::function<void(int, int)>;

// A grade, which has to outlive this, and where it lies.
struct GradeLayer {
  const Grader* grader;
  Layer layer;
};

// Rows of a picture graded by each layer, the later ones over the earlier, and all of that laid over the rows
// as they were. `strip` as Grader::apply takes it.
void gradeRows(Image& strip, int begin, int height, const std::vector<GradeLayer>& layers, const Layer& all);

// Grades a whole stored picture into a writer.
void gradePicture(const StoredPicture& picture, const std::vector<GradeLayer>& layers, const Layer& all,
                  StripWriter& writer, const RowProgress& progress = {});

}  // namespace jugendstil
