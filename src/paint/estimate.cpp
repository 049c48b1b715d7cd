#include "paint/estimate.h"

#include <algorithm>
#include <chrono>

#include "image/resample.h"

namespace jugendstil {
namespace {

constexpr int kTrialEdge = 320;
constexpr int kTrialSteps = 8;
constexpr int kUncounted = 2;  // the first steps pay for memory being touched

using Clock = std::chrono::steady_clock;

}  // namespace

double estimateSeconds(const Chain& chain, const Image& photo, const std::vector<PaintReference>& references,
                       const PaintSettings& settings) {
  const PaintPlan plan = planPainting({photo.width, photo.height}, settings, chain);
  PaintSettings trial = settings;
  trial.longEdge =
      std::min(kTrialEdge, std::max(plan.levels.back().picture.width, plan.levels.back().picture.height));
  trial.levels = 1;
  trial.steps = {kTrialSteps};
  trial.snapshots = 0;
  // A panorama's short side must not fall below what can be painted.
  const double aspect =
      static_cast<double>(std::max(photo.width, photo.height)) / std::min(photo.width, photo.height);
  trial.longEdge = std::max(trial.longEdge, static_cast<int>(aspect * 17));
  const double work = planPainting({photo.width, photo.height}, trial, chain).work();
  const auto begin = Clock::now();
  Clock::time_point counted = begin;
  Clock::time_point end = begin;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) {
    if (p.step == kUncounted) counted = Clock::now();
    end = Clock::now();
    return true;
  };
  paint(chain, photo, references, nullptr, trial, callbacks);
  const double perPixelStep = std::chrono::duration<double>(end - counted).count() /
                              (work * (kTrialSteps - kUncounted) / kTrialSteps);
  // Getting a level ready costs about as much as a few of its steps, with each reference.
  double setup = 0;
  for (const LevelPlan& level : plan.levels) {
    setup += level.work() / level.steps * (4.0 + 2.0 * static_cast<double>(references.size()));
  }
  return perPixelStep * (plan.work() + setup);
}

}  // namespace jugendstil
