// SPDX-License-Identifier: Apache-2.0
// References brought to the size that a level needs, and what is remembered of them.
#pragma once

#include <cstdint>
#include <vector>

#include "image/planes.h"
#include "image/resample.h"
#include "network/chain.h"
#include "paint/basis.h"
#include "style/band_statistics.h"

namespace jugendstil {

struct ReferenceTargets {
  std::vector<BandStatistics> bands;  // one per style band of the chain
  std::vector<float> colours;         // rows of opponent values for the ColourTerm
};

// The size in which a reference's area is the picture's times stroke squared: a stroke of it then has its own
// size relative to the picture. Enlarged by at most 1.5; at least 32 pixels a side.
Size scaledSize(Size reference, Size picture, double stroke);
Image scaledReference(const Image& reference, Size picture, double stroke);

// The middle of a picture, in its format, of so many pixels; as it is where it has no more.
Image middleOf(Image image, double area);

// Statistics of the references so scaled. A reference is cut into parts where it is larger than the picture,
// or than fits into the budget (bytes of the network; 0: any).
ReferenceTargets measureReferences(const Chain& chain, const std::vector<PaintReference>& references,
                                   Size picture, double stroke, MeasureKind kind, Precision precision,
                                   std::size_t budget = 0);

}  // namespace jugendstil
