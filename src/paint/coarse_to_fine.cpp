// SPDX-License-Identifier: Apache-2.0
#include "paint/coarse_to_fine.h"

#include <utility>

#include "base/stop.h"
#include "image/resample.h"

namespace jugendstil {

std::uint64_t drawAt(std::uint64_t draw, std::size_t level, int step) {
  return draw * 1000003ULL + static_cast<std::uint64_t>(level) * 100000ULL + step;
}

CourseResult paintCoarseToFine(const std::vector<LevelPlan>& levels, Image first, std::uint64_t draw,
                               float factor, const LevelCourse& course) {
  CourseResult result{std::move(first)};
  Image& current = result.picture;
  for (std::size_t l = course.level; l < levels.size(); ++l) {
    const LevelPlan& level = levels[l];
    // A painting in progress is not a photograph: cubic enlargement of display values as they stand keeps its
    // edges.
    current = l == 0 ? resizePhoto(current, level.picture.width, level.picture.height)
                     : resample(current, level.picture.width, level.picture.height);
    Pace pace = paceOf(level);
    pace.factor = factor;
    LevelRun run(course.easel(l), current, pace);
    current = {};  // the run has it now, and a large one is not needed twice
    const bool goesOn = l == course.level && course.restore;
    if (goesOn) course.restore(run);
    try {
      for (int s = goesOn ? course.step : 0; s < level.steps; ++s) {
        LossTerms loss;
        const bool good = run.step(s, level.steps, drawAt(draw, l, s), loss);
        course.stepped({l, s, run, good ? &loss : nullptr});
      }
    } catch (const Stopped&) {
      current = run.picture();
      result.stopped = true;
      return result;
    }
    current = run.picture();
    if (course.ended && !course.ended(run)) return result;
  }
  return result;
}

}  // namespace jugendstil
