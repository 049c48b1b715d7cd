// SPDX-License-Identifier: Apache-2.0
// From the size at which losses were optimised to the painting's own.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "base/state_file.h"
#include "image/image.h"
#include "image/resample.h"
#include "paint/likeness.h"
#include "paint/regions.h"
#include "weave/brushwork.h"

namespace jugendstil {

// Of all references together no more pixels than these serve as examples of brush-work: more have little to
// add and cost memory.
inline constexpr double kMostExamples = 4e6;

// References as examples for a picture of this size, enlarged by `ratio`: as large as they are beside it,
// and where that is too much their middles.
std::vector<BrushExample> brushExamples(const std::vector<PaintReference>& references, Size picture,
                                        double stroke, double ratio);

// What a photo (RGB) has in detail that a picture of a smaller size does not show: the photo less itself made
// so small and enlarged again, differences below about 0.03 held back because they are grain.
Image edgesBeyond(const Image& photo, Size smaller);

// Those edges of the photo's drawing (of the picture's size) are added that a picture of the smaller size
// cannot hold, the more the higher the likeness.
void addDrawnEdges(Image& picture, const Image& drawing, Size smaller, const Likeness& likeness);

// How much of a painting's own tones and forms the references' brush-work covers (Brush::laidInto): the less
// the higher the likeness, 0 to 100, and in each stage of enlarging, from 0, half of what it was before. The
// tones are right by then, and what covered as much again would lead a large painting away from its proof.
float coveredAt(double likeness, std::size_t stage);

// The same where the likeness is not the same everywhere: 1 channel of the likeness's size.
Image coveredAt(const Likeness& likeness, std::size_t stage);

// What stays the same from stage to stage.
struct Enlarging {
  const std::vector<Region>& regions;
  const Image& drawing;  // the photo as the painting draws it, of the final size or larger
  const Likeness& likeness;
  double stroke;
  std::uint64_t seed;
  Image quiet{};  // quiet.h; empty: no place is
};

// What a stage has come to; with nothing in it, it begins.
struct EnlargingState {
  std::size_t region = 0;
  Image out;  // the picture with the regions before
  PatchSearchState search;

  // Into a file or out of it.
  void exchange(StateExchange& with);
};

// What brush-work begins with: the painting reduced to the softened size; in quiet places reduced further, to
// its tones, and enlarged through these stages (quietStages) with the references' own brush-work. There the
// network sees little and makes a hatching of it, and references have whole strokes, cuts and even inks.
Image softenedPainting(const Image& painting, Size softened, const std::vector<Size>& stages,
                       const Enlarging& enlarging);

// One stage, from 0: the painting enlarged by at most about two: soft first, then each region with the
// brush-work of its references (brushwork.h), then with those edges of the photo's drawing that a smaller
// picture cannot hold. Progress is called kSearchPasses times, of all regions together, and may throw
// Stopped; the state is up to date then, and empty at the end.
Image enlargedPainting(const Image& painting, Size to, const Enlarging& enlarging, std::size_t stage,
                       EnlargingState& state, const std::function<void()>& progress);

}  // namespace jugendstil
