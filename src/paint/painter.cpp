#include "paint/painter.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "image/error.h"
#include "paint/easel.h"
#include "paint/reference.h"

namespace jugendstil {
namespace {

// Steps taken back before a level that never had a good one is given up.
constexpr int kMostRecoveries = 6;

// The largest middle part of the given aspect ratio: a picture of another format is cut, never stretched.
Image croppedToAspect(const Image& image, Size aspect) {
  const double ratio = static_cast<double>(aspect.width) / aspect.height;
  const int w = std::clamp(static_cast<int>(std::lround(image.height * ratio)), 1, image.width);
  const int h = std::clamp(static_cast<int>(std::lround(image.width / ratio)), 1, image.height);
  return crop(image, (image.width - w) / 2, (image.height - h) / 2, w, h);
}

// Display values as they stand: a painting in progress is not a photograph, and cubic enlargement keeps
// its edges.
Image enlarged(const Image& image, Size to) { return resample(image, to.width, to.height); }

}  // namespace

PaintResult paint(const Chain& chain, const Image& photoIn, const std::vector<PaintReference>& referencesIn,
                  const Image* start, const PaintSettings& settings, const PaintCallbacks& callbacks) {
  const Image photo = rgbOf(photoIn);
  const PaintBasis basis = paintBasis(photo, referencesIn, settings);
  const PaintPlan plan = planPainting({photo.width, photo.height}, settings, chain);
  const Image drawn = drawingOf(basis, photo);
  const Image first = start != nullptr ? croppedToAspect(rgbOf(*start), plan.levels.back().picture) : drawn;

  PaintResult result;
  const double work = plan.work();
  double done = 0;
  int total = 0;
  const auto levels = static_cast<int>(plan.levels.size());
  Image current = first;
  for (int l = 0; l < levels; ++l) {
    const LevelPlan& level = plan.levels[static_cast<std::size_t>(l)];
    current = l == 0 ? resizePhoto(current, level.picture.width, level.picture.height)
                     : enlarged(current, level.picture);
    // Before the level's evaluator, so that the two never stand in memory together.
    const ReferenceTargets targets =
        measureReferences(chain, basis.references, level.picture, settings.stroke, settings.measure,
                          chosenPrecision(settings.precision));
    Easel easel(chain, targets, level, settings);
    easel.hold(drawn, basis.likeness);
    LevelRun run(easel, current);
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
  const Size final = plan.levels.back().picture;
  result.picture = clipped(enlarged(current, final));
  if (settings.opacity < 1) {
    result.picture = blendOver(resizePhoto(photo, final.width, final.height), result.picture,
                               static_cast<float>(settings.opacity));
  }
  return result;
}

}  // namespace jugendstil
