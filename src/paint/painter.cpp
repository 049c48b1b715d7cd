#include "paint/painter.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "base/error.h"
#include "image/layer.h"
#include "image/mask.h"
#include "paint/easel.h"
#include "paint/enlarge.h"
#include "paint/finish.h"
#include "paint/first_state.h"
#include "paint/reference.h"
#include "weave/brushwork.h"

namespace jugendstil {
namespace {

// Steps taken back before a level that never had a good one is given up.
constexpr int kMostRecoveries = 6;

// Display values as they stand: a painting in progress is not a photograph, and cubic enlargement keeps
// its edges.
Image enlarged(const Image& image, Size to) { return resample(image, to.width, to.height); }

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

void layOverPhoto(PaintResult& result, const PaintSettings& settings) {
  result.picture = inPalette(result.photo, result.painting, settings.palette);
  LayerSettings layer{settings.opacity, settings.blend, std::nullopt};
  if (!result.shown.empty()) layer.mask = result.shown;
  const Layer over(std::move(layer), result.photo.width, result.photo.height);
  if (!over.plain()) over.combine(result.photo, result.picture);
}

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
        likeness_(likenessOf(regions_)) {
    // Both reduced at once: a photo of many megapixels and its drawing are not to stand beside the network. A
    // proof and a larger painting look at the very same drawing as the usual one: all have the same strokes.
    Image drawing = drawingOf(regions_, rgbOf(inputs.photo));
    drawn_ = resizePhoto(drawing, plan_.working.width, plan_.working.height);
    if (!plan_.enlarging.empty()) drawnLarge_ = sized(drawing);
    drawing = {};
    current_ = firstState(inputs, drawn_, settings, plan_.levels.front().picture, plan_.working);
  }

  PaintResult run(const PaintInputs& inputs) {
    // A larger photo is reduced now, before there is a network; a smaller one is better not held enlarged.
    const bool larger = inputs.photo.width > plan_.size().width;
    if (larger) result_.photo = sized(rgbOf(inputs.photo));
    result_.finished = optimise() && enlarge();
    result_.painting = clipped(enlarged(current_, plan_.size()));
    if (!larger) result_.photo = sized(rgbOf(inputs.photo));
    const Image shown = shownPart(regions_);
    if (!shown.empty()) result_.shown = resizedMask(shown, plan_.size().width, plan_.size().height);
    layOverPhoto(result_, settings_);
    return std::move(result_);
  }

 private:
  Image sized(const Image& image) const {
    return resizePhoto(image, plan_.size().width, plan_.size().height);
  }

  // Returns whether to go on, as enlarge() does.
  bool optimise() {
    bool goOn = true;
    for (std::size_t l = 0; l < plan_.levels.size() && goOn; ++l) {
      const LevelPlan& level = plan_.levels[l];
      current_ = l == 0 ? resizePhoto(current_, level.picture.width, level.picture.height)
                        : enlarged(current_, level.picture);
      Easel easel(chain_, targetsOf(chain_, regions_, level, settings_), level, settings_);
      easel.hold(drawn_, likeness_);
      if (l + 1 == plan_.levels.size()) drawn_ = {};  // has been looked at for the last time
      LevelRun run(easel, current_, paceOf(level));
      current_ = {};  // the run has it now, and a large one is not needed twice
      for (int s = 0; s < level.steps && goOn; ++s) goOn = step(run, l, s);
      current_ = run.picture();
    }
    return goOn;
  }

  bool step(LevelRun& run, std::size_t l, int s) {
    const LevelPlan& level = plan_.levels[l];
    const auto draw = settings_.seed * 1000003ULL + static_cast<std::uint64_t>(l) * 100000ULL +
                      static_cast<std::uint64_t>(s);
    LossTerms loss;
    if (run.step(s, level.steps, draw, loss)) {
      result_.loss = loss;
    } else if (++result_.recovered > kMostRecoveries && !run.sound()) {
      throw Error(fmt::format(
          "the painting cannot begin at level {} of {}: the loss is not a number; try full precision, "
          "or another reference",
          l + 1, plan_.levels.size()));
    }
    if (callbacks_.snapshot && settings_.snapshots > 0 && ++steps_ % settings_.snapshots == 0)
      callbacks_.snapshot(clipped(run.picture()), steps_);
    return tell(l, s, level.steps, level.work(), false);
  }

  bool enlarge() {
    bool goOn = true;
    if (plan_.enlarging.empty()) return true;
    Image optimised = std::move(current_);
    current_ = resample(optimised, plan_.softened.width, plan_.softened.height);
    const Enlarging enlarging{regions_, drawnLarge_, likeness_, settings_.stroke, settings_.seed};
    for (std::size_t i = 0; i < plan_.enlarging.size() && goOn; ++i) {
      int pass = 0;
      current_ = enlargedPainting(current_, plan_.enlarging[i], enlarging, i, [&] {
        goOn = tell(plan_.levels.size() + i, pass++, kSearchPasses, plan_.enlargingWork(i), true);
        return goOn;
      });
      if (!goOn && i == 0) current_ = std::move(optimised);  // the soft one has less
      optimised = {};
    }
    return goOn;
  }

  // What stops after all work is done does not stop it.
  bool tell(std::size_t level, int step, int steps, double work, bool enlarging) {
    done_ += work / steps;
    const auto stages = plan_.levels.size() + plan_.enlarging.size();
    result_.last = {static_cast<int>(level),
                    static_cast<int>(stages),
                    step + 1,
                    steps,
                    result_.loss,
                    done_ / plan_.work(),
                    enlarging};
    const bool wanted = !callbacks_.progress || callbacks_.progress(result_.last);
    return wanted || result_.last.done >= 1.0 - 1e-9;
  }

  const Chain& chain_;
  const PaintSettings& settings_;
  const PaintCallbacks& callbacks_;
  PaintPlan plan_;
  std::vector<Region> regions_;
  double likeness_;
  Image drawn_;       // at the working size
  Image drawnLarge_;  // at the painting's own
  Image current_;
  PaintResult result_;
  double done_ = 0;
  int steps_ = 0;
};

}  // namespace

PaintResult paint(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings,
                  const PaintCallbacks& callbacks) {
  return Work(chain, inputs, settings, callbacks).run(inputs);
}

}  // namespace jugendstil
