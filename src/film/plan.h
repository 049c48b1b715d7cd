// SPDX-License-Identifier: Apache-2.0
// What making a film will do, before it does it.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include "clip/clip.h"
#include "film/inputs.h"
#include "paint/plan.h"

namespace jugendstil {

struct FilmPlan {
  ClipInfo clip;
  Size size;
  std::int64_t frames = 0;
  PaintPlan paint;  // of a shot's first frame; empty for grading
  int frameSteps = 0;
  std::size_t memory = 0;  // bytes at the peak
};

// Throws as makeFilm() does.
FilmPlan planFilm(const FilmInputs& inputs);

// Whether the result's codec wants even sides, and the size its frames have.
bool wantsEvenSides(const FilmInputs& inputs);
Size filmSize(const FilmInputs& inputs, const ClipInfo& clip);

// How a frame of a film of that size is painted.
PaintPlan framePlan(const FilmInputs& inputs, Size size);

// The inputs' references; without any, the approved frames say what the painting shall be like.
std::vector<PaintReference> referencesOf(const FilmInputs& inputs);

// What a shot that begins with this frame stands on; nothing where its painter has no references.
PaintBasis shotBasis(const FilmInputs& inputs, const Image& head);

}  // namespace jugendstil
