// SPDX-License-Identifier: Apache-2.0
#include "film/measure_clips.h"

#include <fmt/format.h>

#include <memory>
#include <numeric>

#include "base/error.h"
#include "clip/clip.h"
#include "image/mask.h"
#include "image/resample.h"
#include "motion/cut.h"
#include "motion/motion.h"
#include "motion/steadiness.h"
#include "motion/trust.h"

namespace jugendstil {

double meanError(const std::vector<double>& errors) {
  return errors.empty()
             ? 0
             : std::accumulate(errors.begin(), errors.end(), 0.0) / static_cast<double>(errors.size());
}

ClipSteadiness measureSteadiness(const std::string& source, const std::vector<std::string>& clips,
                                 const std::function<void(std::int64_t, std::int64_t)>& progress) {
  std::vector<std::unique_ptr<FrameSource>> all;
  all.push_back(openClip(source));
  const std::int64_t count = all[0]->info().times.size();
  for (const std::string& clip : clips) {
    all.push_back(openClip(clip));
    const std::int64_t own = all.back()->info().times.size();
    if (own != count) {
      throw Error(fmt::format(
          "{} has {} frames, {} has {}; clips are compared frame by frame, so they must be of one "
          "length",
          clip, own, source, count));
    }
  }
  const ClipInfo& first = all[1]->info();
  ClipSteadiness result;
  result.clips.resize(clips.size());
  std::vector<Image> before(all.size());
  GreyFrame greyBefore;
  for (std::int64_t f = 0; f < count; ++f) {
    if (progress) progress(f, count);
    std::vector<Image> now(all.size());
    bool whole = true;
    for (std::size_t i = 0; i < all.size(); ++i) {
      whole = all[i]->read(now[i]) == FrameState::read && whole;
      if (whole) now[i] = resizePhoto(now[i], first.width, first.height);
    }
    if (!whole) continue;
    GreyFrame grey = greyOf(now[0]);
    if (greyBefore.width > 0) {
      const Motion motion = motionBetween(grey, greyBefore, f - 1);
      if (isCut(histogramDistance(before[0], now[0]), coverage(motion.trust))) {
        result.cuts.push_back(f);
      } else {
        result.frames.push_back(f);
        result.source.push_back(warpingError(now[0], before[0], motion.back, motion.trust));
        for (std::size_t i = 1; i < all.size(); ++i)
          result.clips[i - 1].push_back(warpingError(now[i], before[i], motion.back, motion.trust));
      }
    }
    greyBefore = std::move(grey);
    before = std::move(now);
  }
  return result;
}

}  // namespace jugendstil
