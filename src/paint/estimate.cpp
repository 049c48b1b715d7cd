// SPDX-License-Identifier: Apache-2.0
#include "paint/estimate.h"

#include <algorithm>
#include <chrono>
#include <vector>

#include "image/resample.h"

namespace jugendstil {
namespace {

constexpr int kTrialEdge = 320;
constexpr int kTrialSteps = 24;
constexpr int kUncounted = 2;  // the first steps pay for memory being touched

using Clock = std::chrono::steady_clock;

}  // namespace

std::size_t referenceCount(const PaintInputs& inputs) {
  std::size_t count = inputs.references.size();
  for (const PaintPart& part : inputs.parts) count += part.references.size();
  return count;
}

double wholeWork(const PaintPlan& plan, std::size_t references) {
  // Getting a level ready costs about as much as a few of its steps, with each reference.
  double setup = 0;
  for (const LevelPlan& level : plan.levels)
    setup += level.work() / level.steps * (4.0 + 2.0 * static_cast<double>(references));
  return plan.work() + setup;
}

double measuredRate(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings) {
  const Image& photo = inputs.photo;
  const PaintPlan plan = planPainting({photo.width, photo.height}, settings, chain);
  PaintSettings trial = settings;
  trial.longEdge =
      std::min(kTrialEdge, std::max(plan.levels.back().picture.width, plan.levels.back().picture.height));
  trial.workingEdge = 0;
  trial.brushwork = false;
  trial.levels = 1;
  trial.steps = {kTrialSteps};
  trial.snapshots = {};
  trial.proof = trial.finish = false;
  // A panorama's short side must not fall below what can be painted.
  const double aspect =
      static_cast<double>(std::max(photo.width, photo.height)) / std::min(photo.width, photo.height);
  trial.longEdge = std::max(trial.longEdge, static_cast<int>(aspect * 17));
  const double work = planPainting({photo.width, photo.height}, trial, chain).work();
  std::vector<double> seconds;
  Clock::time_point before;
  PaintCallbacks callbacks;
  callbacks.progress = [&](const PaintProgress& p) {
    const Clock::time_point now = Clock::now();
    if (p.step > kUncounted) seconds.push_back(std::chrono::duration<double>(now - before).count());
    before = now;
  };
  trial.start = "photo";
  paint(chain, inputs, trial, callbacks);
  // The middle one: other work on the machine comes and goes.
  std::nth_element(seconds.begin(), seconds.begin() + seconds.size() / 2, seconds.end());
  return seconds[seconds.size() / 2] * kTrialSteps / work;
}

double estimateSeconds(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings) {
  const PaintPlan plan = planPainting({inputs.photo.width, inputs.photo.height}, settings, chain);
  return measuredRate(chain, inputs, settings) * wholeWork(plan, referenceCount(inputs));
}

}  // namespace jugendstil
