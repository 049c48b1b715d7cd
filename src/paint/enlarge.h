// From the size at which losses were optimised to the painting's own.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "image/image.h"
#include "image/resample.h"
#include "paint/regions.h"

namespace jugendstil {

// What stays the same from stage to stage.
struct Enlarging {
  const std::vector<Region>& regions;
  const Image& drawing;  // the photo as the painting draws it, of the final size or larger
  double likeness;       // 0 to 100: how much of the drawing's edges is kept
  double stroke;
  std::uint64_t seed;
};

// The painting enlarged by at most about two: soft first, then each region with the brush-work of its
// references (brushwork.h), then with those edges of the photo's drawing that a smaller picture cannot hold.
// Progress is asked kSearchPasses times, of all regions together; if it says no, the painting is just
// enlarged.
Image enlargedPainting(const Image& painting, Size to, const Enlarging& enlarging,
                       const std::function<bool()>& progress);

}  // namespace jugendstil
