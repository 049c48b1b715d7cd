// Brush-work of the references laid into a painting as it is enlarged: what lies beyond the size at which
// losses are optimised.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "image/image.h"
#include "image/resample.h"
#include "paint/patch_search.h"

namespace jugendstil {

// A reference in the size that it has beside the enlarged painting, and the same without what is lost when it
// is made smaller by `ratio` (above 1) and enlarged again: the two differ by brush-work.
struct BrushExample {
  Image fine;
  Image soft;
};
BrushExample brushExample(const Image& reference, double ratio);

// The painting, which was enlarged by that ratio and is soft for it, with the brush-work that the examples
// have where they are most like it: what their fine pictures have more than their soft ones is taken over
// from the places that patch_search.h finds, overlapping ones averaged by how well they fit. Both RGB,
// display-encoded; values may leave [0, 1]. Progress is asked kSearchPasses times whether to go on; if not,
// the painting comes back as it was. Throws Error: no example, or one with less than 8 pixels a side.
//
// Freeman, Jones & Pasztor 2002, "Example-based super-resolution".
Image withBrushwork(const Image& soft, std::vector<BrushExample> examples, std::uint64_t seed,
                    const std::function<bool()>& progress);

// What a photo (RGB) has in detail that a picture of a smaller size does not show: the photo less itself made
// so small and enlarged again, differences below about 0.03 held back because they are grain.
Image edgesBeyond(const Image& photo, Size smaller);

}  // namespace jugendstil
