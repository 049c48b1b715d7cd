// SPDX-License-Identifier: Apache-2.0
#include "paint/coarse_to_fine.h"

#include <algorithm>
#include <utility>

#include "base/stop.h"
#include "image/resample.h"

namespace jugendstil {

std::uint64_t drawAt(std::uint64_t draw, std::size_t level, int step) {
  return draw * 1000003ULL + static_cast<std::uint64_t>(level) * 100000ULL + step;
}

namespace {

// Which of how many steps a step is to the pace.
struct PaceAt {
  int step = 0;
  int steps = 0;
};

PaceAt paceAt(int step, int steps, int calmAt) {
  if (calmAt == 0) return {step, steps};
  // What is left of the fall in fewer steps, in hundreds of the level's.
  constexpr int kFine = 100;
  const int left = kFine * (steps - 1 - calmAt) * (step - calmAt + 1) / kCalmSteps;
  return {std::min(kFine * calmAt + left, kFine * (steps - 1)), kFine * (steps - 1) + 1};
}

}  // namespace

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
    Pace start = paceOf(level);
    start.factor = factor;
    LevelRun run(course.easel(l), current, start);
    current = {};  // the run has it now, and a large one is not needed twice
    const bool goesOn = l == course.level && course.restore;
    if (goesOn) course.restore(run);
    int calmAt = goesOn ? course.calmAt : 0;
    try {
      for (int s = goesOn ? course.step : 0; s < level.steps; ++s) {
        if (calmAt > 0 && s >= calmAt + kCalmSteps) break;
        LossTerms loss;
        const PaceAt pace = paceAt(s, level.steps, calmAt);
        const bool good = run.step(pace.step, pace.steps, drawAt(draw, l, s), loss);
        if (calmAt == 0 && course.calm && s + 1 + kCalmSteps < level.steps && course.calm(run, s + 1))
          calmAt = s + 1;
        course.stepped({l, s, run, good ? &loss : nullptr, calmAt});
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
