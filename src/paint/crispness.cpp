// SPDX-License-Identifier: Apache-2.0
#include "paint/crispness.h"

#include "image/edges.h"
#include "paint/reference.h"

namespace jugendstil {
namespace {

// Widths are measured in the middles of pictures, of so many pixels.
constexpr double kMeasured = 1.5e6;
constexpr float kPace = 0.35F;
constexpr int kMostSteps = 4;
// As narrow as wanted, near enough.
constexpr double kNear = 1.05;

// The references' own, by share and area; 0 where they have no edges.
double widthOf(const std::vector<Region>& regions, Size picture, double stroke) {
  double sum = 0;
  double weights = 0;
  for (const Region& region : regions) {
    for (const PaintReference& reference : region.basis.references) {
      const double width = edgeWidth(middleOf(scaledReference(reference.image, picture, stroke), kMeasured));
      const double weight = width > 0 ? region.area * reference.share : 0;
      sum += weight * width;
      weights += weight;
    }
  }
  return weights > 0 ? sum / weights : 0;
}

}  // namespace

Image crispened(Image painting, const std::vector<Region>& regions, double stroke) {
  const double wanted = kNear * widthOf(regions, {painting.width, painting.height}, stroke);
  if (wanted <= 0) return painting;
  for (int step = 0; step < kMostSteps && edgeWidth(middleOf(painting, kMeasured)) > wanted; ++step)
    steepenEdges(painting, kPace);
  return painting;
}

}  // namespace jugendstil
