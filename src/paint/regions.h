// SPDX-License-Identifier: Apache-2.0
// The parts of a picture that are painted each after its own references.
#pragma once

#include <vector>

#include "paint/basis.h"
#include "paint/likeness.h"

namespace jugendstil {

// A mask and what is painted under it.
struct PaintPart {
  Image mask;  // 1 channel, any size, white where these references count
  std::vector<PaintReference> references;
};

struct PaintInputs {
  Image photo;                             // RGB or RGBA, display-encoded
  std::vector<PaintReference> references;  // of all that no part covers; may be empty where there are parts
  std::vector<PaintPart> parts{};
  Image inside{};  // 1 channel, any size: painted where it is white, the photo elsewhere; empty: everywhere
  Image start{};   // RGB: what is painted over where settings.start is a file; its middle is cut to the
                   // photo's format
  // Where settings.lines asks for lines. 1 channel, any size; empty: the photo's own, everywhere.
  Image drawnLines{};
  Image linesInside{};
  std::vector<HeldPart> held{};  // parts with likenesses of their own
};

// One part with what it is painted from.
struct Region {
  PaintBasis basis;
  Image weights;    // 1 channel, the photo's size, in [0, 1]; empty: everywhere
  double area = 1;  // of the painted ones' together
};

// One region everywhere where there are neither parts nor a mask. Where parts overlap they share. What has
// neither part nor reference is left as the photo is. Throws UsageError: no references, a part that covers
// nothing.
std::vector<Region> regionsOf(const PaintInputs& inputs, const PaintSettings& settings);

// The photo (RGB) as the painting is to draw it, each region in its own references' colours; RGB of its size.
Image drawingOf(const std::vector<Region>& regions, const Image& photo);

// The likeness of all regions, 0 to 100: as set, raised where references bleach the photo.
double likenessOf(const std::vector<Region>& regions);

// A painting (RGB, clipped) kept to the colours that the references have (grade/inks.h), each region to its
// own, where the palette is theirs.
Image keptToReferences(Image painting, const std::vector<Region>& regions, Palette palette);

// Where the painting lies over the photo: 1 channel of its size, or empty for everywhere.
Image shownPart(const std::vector<Region>& regions);

}  // namespace jugendstil
