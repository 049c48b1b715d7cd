#include "paint/painter.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "image/error.h"
#include "image/layer.h"
#include "image/mask.h"
#include "paint/easel.h"
#include "paint/finish.h"
#include "paint/first_state.h"
#include "paint/reference.h"

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

}  // namespace

PaintResult paint(const Chain& chain, const PaintInputs& inputs, const PaintSettings& settings,
                  const PaintCallbacks& callbacks) {
  const PaintPlan plan = planPainting({inputs.photo.width, inputs.photo.height}, settings, chain);
  const std::vector<Region> regions = regionsOf(inputs, settings);
  // At the painting's size from here on: a photo of many megapixels and its drawing are not to stand beside
  // the network.
  const Size final = plan.levels.back().picture;
  const auto sized = [&](const Image& image) { return resizePhoto(image, final.width, final.height); };
  Image drawn = sized(drawingOf(regions, rgbOf(inputs.photo)));
  // A larger photo is reduced now, before there is a network; a smaller one is better not held enlarged.
  const bool larger = inputs.photo.width > final.width;
  Image photo = larger ? sized(rgbOf(inputs.photo)) : Image();
  Image current =
      firstState(inputs, drawn, settings, plan.levels.front().picture, plan.levels.back().picture);
  const double likeness = likenessOf(regions);

  PaintResult result;
  const double work = plan.work();
  double done = 0;
  int total = 0;
  const auto levels = static_cast<int>(plan.levels.size());
  for (int l = 0; l < levels; ++l) {
    const LevelPlan& level = plan.levels[static_cast<std::size_t>(l)];
    current = l == 0 ? resizePhoto(current, level.picture.width, level.picture.height)
                     : enlarged(current, level.picture);
    Easel easel(chain, targetsOf(chain, regions, level, settings), level, settings);
    easel.hold(drawn, likeness);
    if (l + 1 == levels) drawn = {};  // has been looked at for the last time
    LevelRun run(easel, current, paceOf(level));
    current = {};  // the run has it now, and a large one is not needed twice
    bool goOn = true;
    for (int s = 0; s < level.steps && goOn; ++s) {
      const auto draw = settings.seed * 1000003ULL + static_cast<std::uint64_t>(l) * 100000ULL +
                        static_cast<std::uint64_t>(s);
      LossTerms loss;
      if (run.step(s, level.steps, draw, loss)) {
        result.loss = loss;
      } else if (++result.recovered > kMostRecoveries && !run.sound()) {
        throw Error(fmt::format(
            "the painting cannot begin at level {} of {}: the loss is not a number; try full precision, "
            "or another reference",
            l + 1, levels));
      }
      done += level.work() / level.steps;
      ++total;
      result.last = {l, levels, s + 1, level.steps, result.loss, done / work};
      if (callbacks.snapshot && settings.snapshots > 0 && total % settings.snapshots == 0) {
        callbacks.snapshot(clipped(run.picture()), total);
      }
      if (callbacks.progress) goOn = callbacks.progress(result.last);
    }
    current = run.picture();
    if (!goOn && result.last.done < 1.0 - 1e-9) break;
    result.finished = l + 1 == levels;
  }
  result.painting = clipped(enlarged(current, final));
  result.photo = larger ? std::move(photo) : sized(rgbOf(inputs.photo));
  const Image shown = shownPart(regions);
  if (!shown.empty()) result.shown = resizedMask(shown, final.width, final.height);
  layOverPhoto(result, settings);
  return result;
}

}  // namespace jugendstil
