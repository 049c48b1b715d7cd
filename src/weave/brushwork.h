// SPDX-License-Identifier: Apache-2.0
// The finest detail of example pictures, their brush-work, laid into a picture that was enlarged.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "image/image.h"
#include "image/resample.h"
#include "weave/patch_search.h"

namespace jugendstil {

// An example in the size that it has beside the enlarged picture, and the same without what is lost when it
// is made smaller by `ratio` (above 1) and enlarged again: the two differ by brush-work. RGB,
// display-encoded.
struct BrushExample {
  Image fine;
  Image soft;
  std::vector<float> unwelcome{};  // of each pixel, as PatchGuide has it
};
BrushExample brushExample(const Image& example, double ratio);

// The brush-work of examples, ready to be laid into one picture or into many.
//
// Freeman, Jones & Pasztor 2002, "Example-based super-resolution".
class Brush {
 public:
  // Throws Error: no example, or one with less than 8 pixels a side.
  explicit Brush(std::vector<BrushExample> examples);

  // Where the examples are most like a picture that was enlarged by their ratio and is soft for it
  // (patch_search.h). RGB, display-encoded. Progress is called kSearchPasses times and may throw Stopped.
  std::vector<PatchMatch> find(const Image& soft, std::uint64_t seed, const std::function<void()>& progress,
                               const std::vector<PatchHint>& hints = {}) const;

  // The same from a state on (goOnSearching).
  void goOnFinding(PatchSearchState& state, const Image& soft, std::uint64_t seed,
                   const std::function<void()>& progress) const;

  // The picture with what the examples' fine versions have more than their soft ones at these places,
  // overlapping ones averaged by how well they fit. Of the picture itself `covered` (1 channel of any size,
  // stretched over it, from 0 to 1) gives way to the soft example where that fits without fault, and the less
  // the worse it fits: an example's own tones and colours stand where it has something alike, and the
  // picture's forms stay where it has not. Values may leave [0, 1].
  Image laidInto(const Image& soft, const std::vector<PatchMatch>& places, const Image& covered) const;

 private:
  struct Example {
    Planes fine;
    Planes soft;
  };
  std::vector<PatchGuide> guides_;
  std::vector<Example> examples_;
};

}  // namespace jugendstil
