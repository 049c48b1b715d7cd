// SPDX-License-Identifier: Apache-2.0
// The places where a photo has nothing to keep but its tones: there the references alone paint.
#pragma once

#include <vector>

#include "image/image.h"
#include "image/resample.h"
#include "paint/likeness.h"
#include "weave/brushwork.h"

namespace jugendstil {

// Where a drawing (RGB, of the working size, at which the network looks) is quiet: near 1 where nothing in it
// is finer than some ten pixels, near 0 around edges, forms and grain. A likeness above 50 makes a place less
// quiet, 100 not at all. 1 channel of the drawing's size, 0 to 1.
Image quietPlaces(const Image& drawing, const Likeness& likeness);

// The sizes through which quiet places go: first what they are reduced to, then what they are enlarged to,
// with brush-work, up to the size of what brush-work begins with elsewhere. None for pictures, or strokes,
// that are too small for it.
std::vector<Size> quietStages(Size working, Size softened, double stroke);

// How much of a painting's own tones the references' cover (Brush::laidInto): at least this in quiet places.
inline constexpr float kQuietCovered = 0.7F;

// Has a search avoid what an example shows once: detail far above the usual of places that have the same
// colour. Asked for a tone alone, a search would take a bird for the sky as well as the sky.
void avoidRareDetail(std::vector<BrushExample>& examples);

// `covered` (1 channel of any size) raised to kQuietCovered in quiet places.
Image coveredInQuiet(const Image& covered, const Image& quiet);

// `painting` gives way to `quietly` (both RGB of one size) where it is quiet.
void layQuietly(Image& painting, const Image& quietly, const Image& quiet);

}  // namespace jugendstil
