// SPDX-License-Identifier: Apache-2.0
#include "film/plan.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/number.h"
#include "clip/clip_writer.h"
#include "film/frame_feed.h"
#include "learn/paint_at_once.h"

namespace jugendstil {
namespace {

PaintPlan planOf(const FilmInputs& inputs, Size size, const PaintSettings& settings) {
  return inputs.painter != nullptr ? planWith({inputs.painter}, size, settings)
                                   : planPainting(size, settings, *inputs.chain);
}

Size evenSize(Size size) { return {size.width - size.width % 2, size.height - size.height % 2}; }

}  // namespace

bool wantsEvenSides(const FilmInputs& inputs) {
  return halvesChroma(inputs.film.codec == "auto" ? codecForName(inputs.output)
                                                  : codecFromWord(inputs.film.codec));
}

Size filmSize(const FilmInputs& inputs, const ClipInfo& clip) {
  Size size{clip.width, clip.height};
  if (!inputs.grade) size = planOf(inputs, size, inputs.paint).size();
  if (wantsEvenSides(inputs)) size = evenSize(size);
  if (size.width < 2 || size.height < 2)
    throw Error(fmt::format("frames of {}x{} are too small to be encoded", clip.width, clip.height));
  return size;
}

PaintPlan framePlan(const FilmInputs& inputs, Size size) {
  PaintSettings settings = inputs.paint;
  settings.longEdge = std::max(size.width, size.height);
  return planOf(inputs, size, settings);
}

std::vector<PaintReference> referencesOf(const FilmInputs& inputs) {
  std::vector<PaintReference> all = inputs.references;
  if (!all.empty()) return all;
  for (const KeyFrame& key : inputs.keys) all.push_back({key.picture, 1});
  return all;
}

PaintBasis shotBasis(const FilmInputs& inputs, const Image& head) {
  const std::vector<PaintReference> references = referencesOf(inputs);
  return references.empty() ? PaintBasis{} : paintBasis(head, references, inputs.paint);
}

FilmPlan planFilm(const FilmInputs& inputs) {
  const auto source = openClip(inputs.clip);
  const FrameFeed feed(*source, inputs.film);
  FilmPlan plan;
  plan.clip = source->info();
  plan.size = filmSize(inputs, plan.clip);
  plan.frames = feed.count();
  // A dozen frames stand in memory at once, with their flows.
  plan.memory = cellCount(plan.size.width, plan.size.height) * 12 * 20 + (std::size_t{160} << 20);
  if (inputs.grade) return plan;
  plan.paint = framePlan(inputs, plan.size);
  plan.frameSteps = ledSteps(inputs.film, inputs.paint.brushwork);
  plan.memory += plan.paint.memory;
  return plan;
}

}  // namespace jugendstil
