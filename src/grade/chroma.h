// SPDX-License-Identifier: Apache-2.0
// Matching colour by tone range, so that shadows and lights can take different casts.
#pragma once

#include <array>
#include <vector>

#include "grade/statistics.h"

namespace jugendstil {

enum class GradeMethod { meanStd, covariance, distribution };

inline constexpr std::size_t kToneRanges = 3;  // shadows, mid-tones, lights

// How much a tone (0 to 1) belongs to each range; smooth, adding up to 1.
std::array<float, kToneRanges> rangeWeights(float tone);

// An affine map of Oklab's (a, b) for each tone range, blended by rangeWeights(); lightness is left alone.
class ChromaMap {
 public:
  // The identity.
  ChromaMap() = default;

  // meanStd matches mean and standard deviation of a and of b (Reinhard et al. 2001); the others match means
  // and covariance by the linear Monge-Kantorovich map (Pitié & Kokaram 2007). Ranges with few pixels lean on
  // the whole picture. Greys are carried to the references' own near-greys where these have any, not to where
  // the other colours pull them. Several references: share-weighted means of their statistics.
  ChromaMap(GradeMethod method, const std::vector<Oklab>& photo,
            const std::vector<SharedStatistics>& references);

  Oklab operator()(const Oklab& colour) const;

 private:
  struct Range {
    std::array<std::array<float, 2>, 2> matrix{{{1, 0}, {0, 1}}};
    std::array<float, 2> shift{};    // of what is coloured
    std::array<float, 2> neutral{};  // of greys
    float trust = 0;                 // in neutral
    float reach = 1;                 // chroma up to which colours go along with greys
  };
  std::array<Range, kToneRanges> ranges_;
};

}  // namespace jugendstil
