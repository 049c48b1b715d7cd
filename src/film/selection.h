// SPDX-License-Identifier: Apache-2.0
// Which frames of a clip are worked on.
#pragma once

#include <cstdint>
#include <vector>

#include "clip/clip.h"
#include "film/settings.h"

namespace jugendstil {

// The numbers of the chosen frames, rising. Throws UsageError where they would begin outside the clip or
// nothing is left.
std::vector<std::int64_t> chosenFrames(const ClipInfo& clip, const FilmSettings& settings);

}  // namespace jugendstil
