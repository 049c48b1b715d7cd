// SPDX-License-Identifier: Apache-2.0
#include "film/selection.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/number.h"
#include "clip/moment.h"

namespace jugendstil {
std::vector<std::int64_t> chosenFrames(const ClipInfo& clip, const FilmSettings& settings) {
  const std::int64_t count = clip.times.size();
  const std::int64_t first =
      settings.from.empty() ? 0 : firstFrameFrom(clip, momentOf("from", settings.from));
  const std::int64_t last = settings.to.empty() ? count - 1 : lastFrameTo(clip, momentOf("to", settings.to));
  if (first >= count) {
    throw UsageError(fmt::format("from {} lies behind the end: {} has {} frames (0 to {}), {:.2f} s",
                                 settings.from, clip.path.string(), count, count - 1, clip.seconds));
  }
  if (last < first) {
    throw UsageError(
        fmt::format("nothing lies from {} to {}", settings.from.empty() ? "0" : settings.from, settings.to));
  }
  std::vector<std::int64_t> chosen;
  for (std::int64_t f = first; f <= std::min(last, count - 1); f += settings.every) {
    if (settings.frames > 0 && countOf(chosen) >= settings.frames) break;
    chosen.push_back(f);
  }
  return chosen;
}

}  // namespace jugendstil
