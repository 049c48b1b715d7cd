// SPDX-License-Identifier: Apache-2.0
// What a painting starts from: whose colours it has, and the drawing it keeps.
#pragma once

#include <vector>

#include "grade/inks.h"
#include "grade/recolour.h"
#include "image/image.h"
#include "paint/settings.h"

namespace jugendstil {

struct PaintReference {
  Image image;       // RGB, display-encoded
  double share = 1;  // relative, above 0
};

// Settled once for a photo, or for a whole shot of a film so that its colours stay.
struct PaintBasis {
  std::vector<PaintReference> references;  // trimmed; in the photo's colours where those are kept
  bool recolours = false;                  // whether the drawing is the photo in the references' colours
  AffineColourMap map;                     // that change of colours
  double bleached = 0;  // how much of its detail the photo would lose by it, 0 (little) to 1 (most)
  double likeness = 0;  // as set, raised where the reference bleaches the photo
};

// Throws UsageError without references.
PaintBasis paintBasis(const Image& photo, const std::vector<PaintReference>& references,
                      const PaintSettings& settings);

// The photo (RGB) as the painting is to draw it: what the content term holds to and the painting starts from.
// Its contrasts are those that the painting will have.
Image drawingOf(const PaintBasis& basis, const Image& photo);

// The colours of its references.
Inks inksOf(const PaintBasis& basis);

}  // namespace jugendstil
