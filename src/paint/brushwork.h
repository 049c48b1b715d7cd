// Brush-work of the references laid into a painting as it is enlarged: what lies beyond the size at which
// losses are optimised.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "image/image.h"
#include "image/resample.h"

namespace jugendstil {

// A reference in the size that it has beside the enlarged painting, and the same without what is lost when it
// is made smaller by `ratio` (above 1) and enlarged again: the two differ by brush-work.
struct BrushExample {
  Image fine;
  Image soft;
};
BrushExample brushExample(const Image& reference, double ratio);

// The number of times that progress is called.
inline constexpr int kBrushPasses = 10;

// The painting, which was enlarged by that ratio and is soft for it, with the brush-work that the examples
// have where they are most like it: for every second position of every second row the best place in an
// example is searched (patches of 4x4 positions two pixels apart, lightness about its surroundings and
// chroma), and what its fine picture has more than its soft one is taken over, overlapping ones averaged by
// how well they fit. Both RGB, display-encoded; values may leave [0, 1]. Examples have at least 8 pixels a
// side. After each pass progress is asked whether to go on; if not, the painting comes back as it was.
//
// Freeman, Jones & Pasztor 2002, "Example-based super-resolution"; the search follows Barnes, Shechtman,
// Finkelstein & Goldman 2009, "PatchMatch", with all positions of a pass looking at the pass before, so that
// threads do not change the result.
Image withBrushwork(const Image& soft, std::vector<BrushExample> examples, std::uint64_t seed,
                    const std::function<bool()>& progress);

// What a photo (RGB) has in detail that a picture of a smaller size does not show: the photo less itself made
// so small and enlarged again, differences below about 0.03 held back because they are grain.
Image edgesBeyond(const Image& photo, Size smaller);

}  // namespace jugendstil
