// References brought to the size that a level needs, and what is remembered of them.
#pragma once

#include <cstdint>
#include <vector>

#include "image/planes.h"
#include "image/resample.h"
#include "network/chain.h"
#include "paint/basis.h"
#include "style/measure.h"

namespace jugendstil {

struct ReferenceTargets {
  std::vector<BandStatistics> bands;  // one per style band of the chain
  std::vector<float> colours;         // rows of opponent values for the ColourTerm
};

// Statistics of the references scaled so that their area is the picture's times stroke squared: a stroke of
// the reference then has its own size relative to the picture. A reference is enlarged by at most 1.5 and cut
// into parts where it is larger than the picture, or than fits into the budget (bytes of the network; 0:
// any).
ReferenceTargets measureReferences(const Chain& chain, const std::vector<PaintReference>& references,
                                   Size picture, double stroke, MeasureKind kind, Precision precision,
                                   std::size_t budget = 0);

}  // namespace jugendstil
