// SPDX-License-Identifier: Apache-2.0
#include "shelf/suiting.h"

#include <algorithm>
#include <cmath>

namespace jugendstil {
namespace {

// Detail below this is none.
constexpr double kNoDetail = 1e-3;

// Near what least squares give for the logarithms of the losses that 150 paintings ended with (ten photos
// after fifteen references), and chosen among their neighbours by how often the best reference came first. A
// reference that is smoother than the photo costs much, because either its surface or the photo's things are
// lost; so do areas that the photo has nothing like; fine brush-work is harder to come to than broad. Colours
// and tones hardly count, because a painting takes the reference's anyway; they count a little here, because
// people ask for it.
constexpr double kConstant = -0.79;
constexpr double kBusierCost = 0.6;
constexpr double kCalmerCost = 0.2;
constexpr double kFineCost = 0.22;
constexpr double kAreaCost = 1;
constexpr double kColourCost = 0.3;
constexpr double kToneCost = 0.1;

double detailAt(const PictureMeasures& measures, int size) {
  return std::log(measures.detail[size] + kNoDetail);
}

double areasApart(const PictureMeasures& from, const PictureMeasures& to) {
  double sum = 0;
  for (const AreaLook& area : from.areas) {
    if (area.share <= 0) continue;
    double least = 1e9;
    for (const AreaLook& other : to.areas) {
      if (other.share > 0)
        least = std::min(least, std::hypot(1.0 * area.fine - other.fine, area.broad - other.broad));
    }
    sum += area.share * least;
  }
  return sum;
}

}  // namespace

Suiting suiting(const PictureMeasures& photo, const PictureMeasures& reference) {
  Suiting s;
  for (int size = 0; size < kDetailSizes; ++size) {
    const double more = detailAt(photo, size) - detailAt(reference, size);
    (more > 0 ? s.busier : s.calmer) += std::abs(more) / kDetailSizes;
  }
  s.areas = areasApart(reference, photo);
  s.colours = coloursApart(photo, reference);
  s.tones = tonesApart(photo, reference);
  const double fine = (detailAt(reference, 0) + detailAt(reference, 1)) / 2;
  s.misfit = std::exp(kConstant + kBusierCost * s.busier + kCalmerCost * s.calmer + kFineCost * fine +
                      kAreaCost * s.areas + kColourCost * s.colours + kToneCost * s.tones);
  return s;
}

std::string whyItSuits(const Suiting& s) {
  std::string why = "brush-work as fine as the photo's things";
  if (s.busier > 0.35 && s.busier > s.calmer) why = "smoother than what goes on in the photo";
  if (s.calmer > 0.35 && s.calmer > s.busier) why = "more goes on in it than in the photo";
  why += s.areas < 0.08  ? ", all its areas find alike ones"
         : s.areas > 0.2 ? ", few of its areas find alike ones"
                         : "";
  why += s.colours < 0.06 ? ", near in colour" : s.colours > 0.15 ? ", other colours" : "";
  why += s.tones < 0.08 ? ", near in tone" : s.tones > 0.2 ? ", other tones" : "";
  return why;
}

}  // namespace jugendstil
