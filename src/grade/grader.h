// SPDX-License-Identifier: Apache-2.0
// Looks put on pictures of any size, strip by strip.
#pragma once

#include <functional>
#include <optional>

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

// Grades a whole stored picture into a writer.
void gradePicture(const StoredPicture& picture, const Grader& grader, const Layer& layer, StripWriter& writer,
                  const RowProgress& progress = {});

}  // namespace jugendstil
