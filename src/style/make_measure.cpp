// SPDX-License-Identifier: Apache-2.0
#include "style/make_measure.h"

#include "style/critic.h"
#include "style/gram.h"
#include "style/moments.h"
#include "style/neighbours.h"
#include "style/sliced.h"

namespace jugendstil {

std::unique_ptr<Measure> makeMeasure(const BandStatistics& target, std::uint64_t seed,
                                     std::vector<float> weights) {
  switch (target.kind()) {
    case MeasureKind::gram:
      return makeGram(target, WeightedBand(target.band(), std::move(weights)));
    case MeasureKind::moments:
      return makeMoments(target, WeightedBand(target.band(), std::move(weights)));
    case MeasureKind::sliced:
      return makeSliced(target, seed + target.band(), weights);
    case MeasureKind::neighbours:
      return makeNeighbours(target, weights);
    case MeasureKind::critic:
      return makeCritic(target, seed + target.band(), weights);
  }
  return nullptr;
}

}  // namespace jugendstil
