// SPDX-License-Identifier: Apache-2.0
#include "film/steady_painter.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/number.h"
#include "base/stop.h"
#include "film/continuation.h"
#include "film/held.h"
#include "film/kept_colours.h"
#include "image/mask.h"
#include "motion/trust.h"
#include "paint/coarse_to_fine.h"
#include "paint/first_state.h"

namespace jugendstil {
namespace {

// A led frame begins near its end. Before the solver knows the gradients' sizes large steps only spoil it:
// they may grow for this part of the way, up to a dozen of them.
constexpr double kLedWarmUp = 0.4;
// Where less than the rest of this is new, it is not worth a look at colours.
constexpr double kAllKnown = 0.9999;
// From this part of the picture on, what is new is looked at by itself; below it is slivers at edges, and
// looking only costs time.
constexpr double kMuchNew = 0.045;
// From this steadiness on coarse colours are kept in full; at 0 they are as free as strokes.
constexpr double kColoursKept = 25;
// The loss is compared over this many steps; below this fall it has come to rest.
constexpr int kWatched = 6;
constexpr double kRest = 0.004;
constexpr int kCooling = 6;

Image mixed(const Image& below, const Image& above, const Image& strength) {
  Image out = below;
  for (std::size_t i = 0; i < out.area(); ++i) {
    const float s = strength.pixels[i];
    for (std::size_t c = 0; c < 3; ++c)
      out.pixels[i * 3 + c] += s * (above.pixels[i * 3 + c] - out.pixels[i * 3 + c]);
  }
  return out;
}

// What a led frame begins with: the lead where it knows something; elsewhere its colours carried on, so that
// what comes into view belongs to the painting that is there; the drawing where nothing known is near.
Image startOf(const Image& photo, const Image& drawing, const Lead& lead, Size size) {
  const Image below = resizePhoto(drawing, size.width, size.height);
  if (coverage(lead.known) > kAllKnown) return mixed(below, lead.picture, lead.known);
  const Continued more = continued(resizePhoto(photo, size.width, size.height), lead.picture, lead.known);
  return mixed(mixed(below, more.picture, more.sure), lead.picture, lead.known);
}

// When a led frame may end: the schedule of its steps falls to rest early once the loss has.
class Rest {
 public:
  Rest(int steps, double enough) : steps_(steps), enough_(enough) {}

  // How many steps there are in all, as it looks after this one.
  int steps() const { return steps_; }

  void saw(int step, double loss) {
    history_.push_back(loss);
    if (cooling_ || step + kCooling >= steps_ || countOf(history_) <= 2 * kWatched) return;
    const auto mean = [&](std::size_t end) {
      double sum = 0;
      for (std::size_t i = end - kWatched; i < end; ++i) sum += history_[i];
      return sum / kWatched;
    };
    const double now = mean(history_.size());
    const double before = mean(history_.size() - kWatched);
    if (now <= enough_ && before - now < kRest * before) {
      cooling_ = true;
      steps_ = step + 1 + kCooling;
    }
  }

 private:
  int steps_;
  double enough_;
  bool cooling_ = false;
  std::vector<double> history_;
};

}  // namespace

double heldWeight(double steady) { return steady <= 0 ? 0 : 1.1 * std::pow(2.0, steady * 3 / 50); }

SteadyPainter::SteadyPainter(const Chain& chain, std::vector<PaintReference> references,
                             const PaintSettings& settings, const SteadySettings& steady, Size size,
                             Image start)
    : chain_(chain),
      references_(std::move(references)),
      settings_(settings),
      steady_(steady),
      start_(std::move(start)) {
  // What lies beyond comes when all frames are painted (led_brushwork.h).
  settings_.longEdge = std::max(size.width, size.height);
  settings_.workingEdge = 0;
  settings_.brushwork = false;
  plan_ = planPainting(size, settings_, chain);
}

int SteadyPainter::totalSteps() const {
  int sum = 0;
  for (const LevelPlan& level : plan_.levels) sum += level.steps;
  return sum;
}

void SteadyPainter::measure() {
  levels_.clear();
  last_.reset();
  for (const LevelPlan& level : plan_.levels) {
    levels_.push_back(
        {measureReferences(chain_, basis_.references, level.picture, settings_.stroke, settings_.measure,
                           chosenPrecision(settings_.precision), level.budget),
         level});
  }
}

Easel& SteadyPainter::lastEasel() {
  if (!last_) last_ = std::make_unique<Easel>(chain_, levels_.back().targets, levels_.back().plan, settings_);
  return *last_;
}

Image SteadyPainter::firstStateOf(const Image& photo, const Image& drawing) const {
  return firstState({photo, references_, {}, {}, start_}, drawing, settings_, plan_.levels.front().picture,
                    plan_.levels.back().picture);
}

void SteadyPainter::beginShot(const Image& photo) { beginShot(paintBasis(photo, references_, settings_)); }

void SteadyPainter::beginShot(PaintBasis basis) {
  basis_ = std::move(basis);
  // References in their own colours are the same for every shot.
  if (levels_.empty() || settings_.palette == Palette::photo) measure();
}

PaintedFrame SteadyPainter::paintFirst(const Image& photo, const Image& begun, std::uint64_t draw,
                                       const StepProgress& progress) {
  const Image drawing = drawingOf(basis_, photo);
  const Likeness likeness = likenessIn(photo, basis_.likeness, holds_);
  PaintedFrame out;
  std::unique_ptr<Easel> coarse;  // of a level before the last
  LevelCourse course;
  course.easel = [&](std::size_t l) -> Easel& {
    coarse.reset();
    if (l + 1 < levels_.size())
      coarse = std::make_unique<Easel>(chain_, levels_[l].targets, levels_[l].plan, settings_);
    Easel& easel = coarse ? *coarse : lastEasel();
    easel.hold(drawing, likeness);
    easel.freePixels();
    easel.lookAtAllAlike();
    return easel;
  };
  course.stepped = [&](const LevelStep& step) {
    if (step.loss != nullptr) {
      out.loss = step.loss->total();
      out.style = step.loss->style;
    }
    ++out.steps;
    if (progress) progress(out.steps, totalSteps());
  };
  course.ended = [&](LevelRun& run) {
    out.sound = run.sound();
    out.canvas = run.canvas();  // the last one's stays
    return out.sound;
  };
  const Image first = begun.empty() ? firstStateOf(photo, drawing) : begun;
  CourseResult done = paintCoarseToFine(plan_.levels, first, draw, caution_, course);
  if (done.stopped) throw Stopped{};
  out.picture = clipped(std::move(done.picture));
  out.canvas = clipped(std::move(out.canvas));
  return out;
}

PaintedFrame SteadyPainter::paintNext(const Image& photo, const Image& begun, const Lead& lead, bool begins,
                                      double enough, std::uint64_t draw, const StepProgress& progress) {
  const LevelPlan& level = levels_.back().plan;
  const Image drawing = drawingOf(basis_, photo);
  Easel& easel = lastEasel();
  easel.hold(drawing, likenessIn(photo, basis_.likeness, holds_));
  easel.holdPixels(lead.picture, lead.strength, heldWeight(steady_.steady));
  const Image start =
      begun.empty() ? startOf(photo, drawing, lead, level.picture) : mixed(begun, lead.picture, lead.known);
  if (1 - coverage(lead.known) > kMuchNew)
    easel.lookAt(levels_.back().targets, lead.fresh);
  else
    easel.lookAtAllAlike();
  const bool margin = lead.canvas.width == level.canvas.width && lead.canvas.height == level.canvas.height;
  const Pace pace{caution_, static_cast<int>(kLedWarmUp * steady_.frameSteps)};
  LevelRun run = margin ? LevelRun(easel, start, lead.canvas, pace) : LevelRun(easel, start, pace);
  PaintedFrame out;
  Rest rest(begins ? level.steps : steady_.frameSteps, enough);
  for (int s = 0; s < rest.steps(); ++s) {
    LossTerms loss;
    if (run.step(s, rest.steps(), drawAt(draw, 0, s), loss)) {
      // Comparable with frames that are led by nothing and hold nothing new.
      out.loss = loss.total() - loss.held - loss.more;
      out.style = loss.style;
      rest.saw(s, loss.total());
    }
    ++out.steps;
    if (progress) progress(out.steps, rest.steps());
  }
  out.sound = run.sound();
  if (!out.sound) return out;
  out.picture = clipped(run.picture());
  out.canvas = clipped(run.canvas());
  if (lead.before.empty() || steady_.steady <= 0) return out;
  const double strength = std::min(1.0, steady_.steady / kColoursKept);
  const auto sized = [&](const Image& d) {
    return resizePhoto(d, level.picture.width, level.picture.height);
  };
  return withKeptColours(std::move(out), lead, sized(drawing), sized(drawingOf(basis_, lead.before)),
                         strength);
}

}  // namespace jugendstil
