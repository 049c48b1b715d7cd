// SPDX-License-Identifier: Apache-2.0
// One page that shows what a grade did.
#pragma once

#include <optional>
#include <string>

#include "grade/closeness.h"
#include "grade/look.h"
#include "image/image.h"

namespace jugendstil {

struct GradeChart {
  Image photo;
  std::string photoName;
  Image reference;  // empty where a saved look was applied
  std::string referenceName;
  Image result;
  std::string resultName;
  Look look;
  std::optional<Closeness> closeness;
};

// 1600x880: the pictures, below each the histogram of its channels and the distribution of its colours over
// Oklab's (a, b) plane, then the tone curve and what the look does in words. Throws Error where no font is
// installed.
Image gradeChart(const GradeChart& chart);

}  // namespace jugendstil
