// SPDX-License-Identifier: Apache-2.0
// How steady any two clips are, against the one they were made from.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

namespace jugendstil {

struct ClipSteadiness {
  std::vector<std::int64_t> frames;        // compared with the frame before
  std::vector<double> source;              // warping errors, one a frame
  std::vector<std::vector<double>> clips;  // of each clip
  std::vector<std::int64_t> cuts;
};

// Motion and trust are the source's, found at the size of the first clip; all are brought to that size, frame
// by frame from the beginning. Throws Error where a clip has another number of frames than the source.
// `progress` (frames done, in all) may throw Stopped.
ClipSteadiness measureSteadiness(const std::string& source, const std::vector<std::string>& clips,
                                 const std::function<void(std::int64_t, std::int64_t)>& progress);

double meanError(const std::vector<double>& errors);

}  // namespace jugendstil
