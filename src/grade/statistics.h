// SPDX-License-Identifier: Apache-2.0
// What a grade needs to know of a picture: its colours and the strength of its detail.
#pragma once

#include <array>
#include <vector>

#include "grade/detail.h"
#include "image/display_oklab.h"
#include "image/image.h"
#include "image/stored_picture.h"

namespace jugendstil {

// Pictures are measured at this long edge, so that detail of the same size in the picture is compared.
inline constexpr int kMeasuredEdge = 768;
inline constexpr std::size_t kMostSamples = 24000;

struct GradeStatistics {
  std::vector<Oklab> colours;        // equally weighted samples, a fixed pattern over the picture
  std::vector<PixelDetail> details;  // of the same pixels

  // Mean absolute value of a detail band, in code values.
  double detailStrength(std::size_t band) const;
};

// A reference and its share, relative to the others'.
struct SharedStatistics {
  GradeStatistics statistics;
  double share = 1;
};

// The picture by area averages with the given long edge (or its own, where that is smaller), in
// display-encoded sRGB with the alpha dropped, read strip by strip. It stands as stored, not upright.
Image reducedPicture(const StoredPicture& picture, int longEdge = kMeasuredEdge);

// Statistics of a reduced picture. The mask, where given, weighs the pixels (first channel; any size). Throws
// Error where the mask leaves nothing.
GradeStatistics gradeStatistics(const Image& reduced, const Image* mask = nullptr);

// All pictures' statistics as one, each counting the same; thinned where there are very many.
GradeStatistics pooledStatistics(const std::vector<GradeStatistics>& parts);

// Lightness as the code value of the grey that looks as light: 0 to 1, sRGB-encoded. Tone is matched on this,
// because equal steps of it are what files store and what bands or clips.
float toneOf(const Oklab& colour);
float lightnessOfTone(float tone);

// Display-encoded sRGB.
std::array<float, 3> displayOf(const Oklab& colour);

}  // namespace jugendstil
