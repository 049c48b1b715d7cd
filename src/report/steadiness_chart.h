// SPDX-License-Identifier: Apache-2.0
// Warping errors frame by frame, drawn.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "image/image.h"

namespace jugendstil {

struct SteadinessChart {
  struct Series {
    std::string name;
    std::vector<double> errors;  // one a frame; not a number where there is none
  };
  std::string title;
  std::vector<std::int64_t> frames;  // numbers in the clip
  std::vector<Series> series;
  std::vector<std::int64_t> cuts;     // frames at which a shot begins
  std::vector<std::int64_t> retries;  // frames that were tried again or filled
};

// 1280x720: root mean square errors in code values of 255 over the frames, cuts as upright lines, retried
// frames as marks at the foot. Throws Error where no font is installed.
Image steadinessChart(const SteadinessChart& chart);

}  // namespace jugendstil
