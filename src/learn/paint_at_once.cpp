// SPDX-License-Identifier: Apache-2.0
#include "learn/paint_at_once.h"

#include <algorithm>

#include "image/mask.h"
#include "learn/quick_painting.h"
#include "paint/enlarge.h"
#include "paint/finish.h"
#include "paint/lines.h"
#include "paint/quiet.h"
#include "paint/regions.h"
#include "weave/brushwork.h"

namespace jugendstil {
namespace {

std::vector<const QuickPainter*> allOf(const PainterChoice& painters) {
  std::vector<const QuickPainter*> all = painters.parts;
  if (painters.whole != nullptr) all.insert(all.begin(), painters.whole);
  return all;
}

bool haveReferences(const PainterChoice& painters) {
  const auto all = allOf(painters);
  return std::all_of(all.begin(), all.end(), [](const auto* p) { return !p->references.empty(); });
}

// What paints each region: regionsOf() has that which no part covers first, where there is any.
std::vector<const QuickPainter*> paintersOf(const PainterChoice& painters, std::size_t regions) {
  auto all = allOf(painters);
  if (all.size() > regions) all.erase(all.begin());
  return all;
}

void addPainted(Image& sum, const Image& painted, const Image& photo, const Image& weights) {
  for (std::size_t i = 0; i < sum.pixels.size(); ++i)
    sum.pixels[i] += weights.pixels[i / 3] * (painted.pixels[i] - photo.pixels[i]);
}

// At the working size; what no region covers is the photo.
Image paintedRegions(const PainterChoice& painters, const std::vector<Region>& regions, const Image& photo) {
  const auto who = paintersOf(painters, regions.size());
  Image sum = photo;
  for (std::size_t r = 0; r < regions.size(); ++r) {
    QuickPainting painting(who[r]->net, {photo.width, photo.height});
    Image painted = painting.paint(drawingOf(regions[r].basis, photo));
    if (regions[r].weights.empty()) return painted;  // everywhere
    addPainted(sum, painted, photo, resizedMask(regions[r].weights, photo.width, photo.height));
  }
  return sum;
}

Image sized(const Image& photo, Size size) { return resizePhoto(photo, size.width, size.height); }

}  // namespace

PaintSettings settingsWith(const PainterChoice& painters, const PaintSettings& settings) {
  PaintSettings own = settings;
  const PaintSettings& learned = painters.first().settings.painting;
  own.likeness = learned.likeness;
  own.stroke = learned.stroke;
  own.measure = learned.measure;
  own.content = learned.content;
  own.emphasis = learned.emphasis;
  own.trim = 0;  // was done when it learned
  if (learned.palette == Palette::photo && own.palette == Palette::reference) own.palette = Palette::photo;
  if (!haveReferences(painters)) {
    own.brushwork = false;
    own.palette = own.palette == Palette::reference ? Palette::photo : own.palette;
  }
  return own;
}

PaintPlan planWith(const PainterChoice& painters, Size photo, const PaintSettings& settings) {
  return planAtOnce(photo, settings,
                    settings.workingEdge > 0 ? settings.workingEdge : painters.first().settings.longEdge);
}

PaintInputs inputsWith(const PainterChoice& painters, PaintInputs inputs) {
  // A painter of another program has the photo as it is, in its own colours.
  const PaintReference photo{rgbOf(inputs.photo), 1};
  const auto referencesFor = [&](const QuickPainter& painter) {
    return painter.references.empty() ? std::vector<PaintReference>{photo} : painter.references;
  };
  if (painters.whole != nullptr) inputs.references = referencesFor(*painters.whole);
  for (std::size_t i = 0; i < painters.parts.size(); ++i)
    inputs.parts[i].references = referencesFor(*painters.parts[i]);
  return inputs;
}

PaintResult paintAtOnce(const PainterChoice& painters, const PaintInputs& inputs,
                        const PaintSettings& settings,
                        const std::function<void(const PaintProgress&)>& progress) {
  const Image photo = rgbOf(inputs.photo);
  const PaintPlan plan = planWith(painters, {photo.width, photo.height}, settings);
  const std::vector<Region> regions = regionsOf(inputs, settings);
  PaintResult result;
  result.photo = sized(photo, plan.size());
  Image current = paintedRegions(painters, regions, sized(photo, plan.working));
  const Likeness likeness{likenessOf(regions)};
  const Image drawing = plan.enlarging.empty() ? Image() : drawingOf(regions, result.photo);
  const Image quiet = plan.quiet.empty() ? Image() : quietPlaces(sized(drawing, plan.working), likeness);
  const Enlarging enlarging{regions, drawing, likeness, settings.stroke, settings.seed, quiet};
  double done = 0;
  for (std::size_t stage = 0; stage < plan.enlarging.size(); ++stage) {
    // The first one begins softened, as an optimised painting does.
    if (stage == 0) current = softenedPainting(current, plan.softened, plan.quiet, enlarging);
    EnlargingState state;
    int pass = 0;
    current = enlargedPainting(current, plan.enlarging[stage], enlarging, stage, state, [&] {
      done += plan.enlargingWork(stage) / kSearchPasses;
      const auto levels = static_cast<int>(1 + plan.enlarging.size());
      if (progress)
        progress({static_cast<int>(1 + stage), levels, ++pass, kSearchPasses, {}, done / plan.work(), true});
    });
  }
  result.painting = clipped(std::move(current));
  if (settings.lines > 0)
    result.painting =
        withLines(std::move(result.painting), linesOver(result.photo, inputs.drawnLines, inputs.linesInside),
                  settings.lines / 100, regions, settings.palette);
  const Image shown = shownPart(regions);
  if (!shown.empty()) result.shown = resizedMask(shown, plan.size().width, plan.size().height);
  result.picture = laidOver(result.photo, result.painting, result.shown, settings);
  result.finished = true;
  return result;
}

}  // namespace jugendstil
