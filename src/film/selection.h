// Which frames of a clip are worked on.
#pragma once

#include <cstdint>
#include <string_view>
#include <vector>

#include "film/clip.h"
#include "film/settings.h"

namespace jugendstil {

// Throws UsageError where the text is neither a frame number ("48") nor a time ("2s", "2.5s", "0:02.5",
// "1:02:03").
void checkPlace(std::string_view name, std::string_view text);

// The numbers of the chosen frames, rising. Throws UsageError where a place lies outside the clip or nothing
// is left.
std::vector<std::int64_t> chosenFrames(const ClipInfo& clip, const FilmSettings& settings);

}  // namespace jugendstil
