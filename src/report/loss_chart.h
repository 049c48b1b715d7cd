// SPDX-License-Identifier: Apache-2.0
// The terms of a painting's loss, step by step, drawn.
#pragma once

#include <string>
#include <vector>

#include "image/image.h"

namespace jugendstil {

struct LossChart {
  struct Series {
    std::string name;
    std::vector<double> values;  // one a step
  };
  std::string title;
  std::vector<Series> series;       // at most six
  std::vector<std::size_t> levels;  // steps at which a level begins
  std::string note = "Each term of the loss as it counts, step by step; the scale is logarithmic";
  std::string axis = "step";
  double decades = 4;  // a term this many powers of ten below the largest says nothing any more
  double end = 0;      // what the axis says at its right end; 0: the number of steps
};

// 1280x720: values on a logarithmic scale over the steps, levels divided by upright lines. What is 0 or below
// is not drawn. Throws Error where no font is installed.
Image lossChart(const LossChart& chart);

}  // namespace jugendstil
