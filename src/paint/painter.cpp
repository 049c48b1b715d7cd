// SPDX-License-Identifier: Apache-2.0
#include "paint/painter.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <chrono>
#include <memory>

#include "base/error.h"
#include "base/stop.h"
#include "image/mask.h"
#include "paint/calm.h"
#include "paint/coarse_to_fine.h"
#include "paint/crispness.h"
#include "paint/easel.h"
#include "paint/enlarge.h"
#include "paint/finish.h"
#include "paint/first_state.h"
#include "paint/lines.h"
#include "paint/quiet.h"
#include "paint/reference.h"
#include "weave/brushwork.h"

namespace jugendstil {
namespace {

// Steps taken back before a level that never had a good one is given up.
constexpr int kMostRecoveries = 6;

// Before the level's evaluator, so that the two never stand in memory together.
std::vector<RegionTargets> targetsOf(const Chain& chain, const std::vector<Region>& regions,
                                     const LevelPlan& level, const PaintSettings& settings) {
  std::vector<RegionTargets> all;
  for (const Region& region : regions) {
    all.push_back({measureReferences(chain, region.basis.references, level.picture, settings.stroke,
                                     settings.measure, chosenPrecision(settings.precision), level.budget),
                   region.weights.empty()
                       ? Image()
                       : resizedMask(region.weights, level.picture.width, level.picture.height),
                   region.area});
  }
  return all;
}

// What was done last.
struct Place {
  bool enlarging = false;
  std::size_t level = 0;  // or stage of enlarging
  int steps = 0;          // of it
  int calmAt = 0;         // after how many of them it was calm; 0: not yet
};

// One painting on its way.
class Work {
 public:
  Work(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings,
       const PaintCallbacks& callbacks)
      : chain_(chain),
        settings_(settings),
        callbacks_(callbacks),
        plan_(planPainting({inputs.photo.width, inputs.photo.height}, settings, chain)),
        regions_(regionsOf(inputs, settings)),
        likeness_(likenessWith(likenessOf(regions_), inputs.held, plan_.size())) {
    // Both reduced at once: a photo of many megapixels and its drawing are not to stand beside the network. A
    // proof and a larger painting look at the very same drawing as the usual one: all have the same strokes.
    Image drawing = drawingOf(regions_, rgbOf(inputs.photo));
    drawn_ = resizePhoto(drawing, plan_.working.width, plan_.working.height);
    if (!plan_.enlarging.empty()) drawnLarge_ = sized(drawing);
    if (!plan_.quiet.empty()) quiet_ = quietPlaces(drawn_, likeness_);
    drawing = {};
    current_ = firstState(inputs, drawn_, settings, plan_.levels.front().picture, plan_.working);
  }

  PaintResult run(const PaintInputs& inputs) {
    resume();
    // A larger photo is reduced now, before there is a network; a smaller one is better not held enlarged.
    const bool larger = inputs.photo.width > plan_.size().width;
    if (larger) result_.photo = sized(rgbOf(inputs.photo));
    result_.finished = (place_.enlarging || optimise()) && enlarge();
    result_.painting = clipped(resample(current_, plan_.size().width, plan_.size().height));
    if (result_.finished && settings_.brushwork)
      result_.painting = crispened(std::move(result_.painting), regions_, settings_.stroke);
    result_.painting = keptToReferences(std::move(result_.painting), regions_, settings_.palette);
    if (!larger) result_.photo = sized(rgbOf(inputs.photo));
    if (settings_.lines > 0)
      result_.painting = withLines(std::move(result_.painting),
                                   linesOver(result_.photo, inputs.drawnLines, inputs.linesInside),
                                   settings_.lines / 100, regions_, settings_.palette);
    const Image shown = shownPart(regions_);
    if (!shown.empty()) result_.shown = resizedMask(shown, plan_.size().width, plan_.size().height);
    result_.picture = laidOver(result_.photo, result_.painting, result_.shown, settings_);
    return std::move(result_);
  }

 private:
  Image sized(const Image& image) const {
    return resizePhoto(image, plan_.size().width, plan_.size().height);
  }

  // --- State.

  // What comes first in its file; a level's run or a stage's picture follows.
  void exchange(StateExchange& with) {
    with.value(place_);
    with.value(done_);
    with.value(steps_);
    with.value(result_.loss);
    with.value(result_.recovered);
    with.value(result_.spared);
    if (settings_.untilGood) calm_.exchange(with);
    with.value(result_.last);
    if (callbacks_.keeping.more) callbacks_.keeping.more(with);
    if (!place_.enlarging) return;
    exchangeImage(with, current_);
    enlarging_.exchange(with);
  }

  void resume() {
    const StateKeeping& keeping = callbacks_.keeping;
    if (keeping.file.empty() || makingOfState(keeping.file) != keeping.making) return;
    kept_ = std::make_unique<StateReader>(keeping.file, keeping.making);
    exchange(*kept_);
    if (place_.enlarging) kept_.reset();
    if (callbacks_.resumed) callbacks_.resumed(result_.last);
  }

  // `run` is that of the level being optimised. That a state cannot be kept must not cost the painting.
  void keep(LevelRun* run) {
    const StateKeeping& keeping = callbacks_.keeping;
    if (keeping.file.empty()) return;
    try {
      StateWriter state(keeping.file, keeping.making);
      exchange(state);
      if (run != nullptr) run->exchange(state);
      state.commit();
      result_.notKept.clear();
    } catch (const Error& e) {
      result_.notKept = e.what();
    }
    keptAt_ = Clock::now();
  }

  void keepWhereDue(LevelRun* run) {
    if (callbacks_.keeping.file.empty() || Clock::now() - keptAt_ < callbacks_.keeping.every) return;
    keep(run);
    if (!begun_ && result_.notKept.empty() && callbacks_.keeping.begun) callbacks_.keeping.begun();
    begun_ = true;
  }

  // --- Levels.

  // Returns whether all of it was done, as enlarge() does.
  bool optimise() {
    LevelCourse course;
    course.level = place_.level;
    course.step = place_.steps;
    course.calmAt = place_.calmAt;
    if (settings_.untilGood) course.calm = [&](LevelRun& run, int done) { return isCalm(run, done); };
    if (kept_) {
      course.restore = [&](LevelRun& run) {
        run.exchange(*kept_);
        kept_.reset();
      };
    }
    course.easel = [&](std::size_t l) -> Easel& { return easelFor(l); };
    course.stepped = [&](const LevelStep& step) { stepped(step); };
    course.ended = [&](LevelRun&) {
      calm_ = {};
      easel_.reset();  // before the next level's picture is made
      return true;
    };
    CourseResult done = paintCoarseToFine(plan_.levels, std::move(current_), settings_.seed, 1, course);
    easel_.reset();
    current_ = std::move(done.picture);
    return !done.stopped;
  }

  Easel& easelFor(std::size_t l) {
    const LevelPlan& level = plan_.levels[l];
    easel_.emplace(chain_, targetsOf(chain_, regions_, level, settings_), level, settings_);
    easel_->hold(drawn_, likeness_);
    if (l + 1 == plan_.levels.size()) drawn_ = {};  // has been looked at for the last time
    return *easel_;
  }

  void stepped(const LevelStep& step) {
    if (step.loss != nullptr) {
      result_.loss = *step.loss;
    } else if (++result_.recovered > kMostRecoveries && !step.run.sound()) {
      throw Error(fmt::format(
          "the painting cannot begin at level {} of {}: the loss is not a number; try full precision, "
          "or another reference",
          step.level + 1, plan_.levels.size()));
    }
    if (settings_.snapshots.after(++steps_) && callbacks_.snapshot)
      callbacks_.snapshot(clipped(step.run.picture()), steps_);
    const LevelPlan& level = plan_.levels[step.level];
    place_ = {false, step.level, step.step + 1, step.calmAt};
    if (step.calmAt > 0 && step.step + 1 == step.calmAt + kCalmSteps) {
      // Steps that are not to come count as done.
      const int left = level.steps - step.step - 1;
      result_.spared += left;
      done_ += level.work() * left / level.steps;
    }
    tell(step.level, step.step, level.steps, level.work(), &step.run);
  }

  bool isCalm(LevelRun& run, int done) {
    return done % Calm::kEvery == 0 && calm_.look(run.picture(), done, plan_.levels[place_.level].steps);
  }

  // --- Brush-work.

  bool enlarge() {
    if (plan_.enlarging.empty()) return true;
    if (!place_.enlarging) place_ = {true, 0, 0};
    const Enlarging enlarging{regions_, drawnLarge_, likeness_, settings_.stroke, settings_.seed, quiet_};
    try {
      for (std::size_t& stage = place_.level; stage < plan_.enlarging.size(); ++stage) {
        // The first one begins softened, which has less.
        const Image soft =
            stage == 0 ? softenedPainting(current_, plan_.softened, plan_.quiet, enlarging) : Image();
        current_ = enlargedPainting(stage == 0 ? soft : current_, plan_.enlarging[stage], enlarging, stage,
                                    enlarging_, [&] {
                                      tell(plan_.levels.size() + stage, place_.steps++, kSearchPasses,
                                           plan_.enlargingWork(stage), nullptr);
                                    });
        place_.steps = 0;
      }
    } catch (const Stopped&) {
      return false;
    }
    return true;
  }

  // What stops after all work is done does not stop it. `run` is none while brush-work is laid in.
  void tell(std::size_t level, int step, int steps, double work, LevelRun* run) {
    done_ += work / steps;
    const auto stages = plan_.levels.size() + plan_.enlarging.size();
    result_.last = {static_cast<int>(level),
                    static_cast<int>(stages),
                    step + 1,
                    steps,
                    result_.loss,
                    done_ / plan_.work(),
                    run == nullptr};
    try {
      if (callbacks_.progress) callbacks_.progress(result_.last);
    } catch (const Stopped&) {
      if (result_.last.done >= 1.0 - 1e-9) return;
      keep(run);
      throw;
    }
    keepWhereDue(run);
  }

  using Clock = std::chrono::steady_clock;

  const Chain& chain_;
  const PaintSettings& settings_;
  const PaintCallbacks& callbacks_;
  PaintPlan plan_;
  std::vector<Region> regions_;
  Likeness likeness_;
  Image drawn_;       // at the working size
  Image drawnLarge_;  // at the painting's own
  Image quiet_;       // of the drawing; where the references paint alone
  std::optional<Easel> easel_;
  Image current_;
  EnlargingState enlarging_;
  Calm calm_;
  PaintResult result_;
  Place place_;
  double done_ = 0;
  int steps_ = 0;
  std::unique_ptr<StateReader> kept_;  // until all of it is read
  Clock::time_point keptAt_ = Clock::now();
  bool begun_ = false;
};

}  // namespace

PaintResult paint(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings,
                  const PaintCallbacks& callbacks) {
  return Work(chain, inputs, settings, callbacks).run(inputs);
}

}  // namespace jugendstil
