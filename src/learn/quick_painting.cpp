// SPDX-License-Identifier: Apache-2.0
#include "learn/quick_painting.h"

#include <algorithm>

#include "base/parallel.h"

namespace jugendstil {
namespace {

constexpr int kMargin = 3 * kPieceMargin;

int canvasSide(const Net& net, int side) {
  const int shrink = net.largestShrink();
  return (side + 2 * kMargin + shrink - 1) / shrink * shrink;
}

}  // namespace

Planes centredPlanes(const Image& rgb) {
  Planes planes(rgb.width, rgb.height);
  parallelFor(rgb.height, [&](int y) {
    for (int x = 0; x < rgb.width; ++x) {
      const std::size_t i = planes.index(x, y);
      for (int c = 0; c < 3; ++c) planes.plane[c][i] = rgb.pixel(i)[c] - kMiddle;
    }
  });
  return planes;
}

Image imageOfCentred(const Planes& planes) {
  Image image(planes.width, planes.height);
  parallelFor(image.height, [&](int y) {
    for (int x = 0; x < image.width; ++x) {
      const std::size_t i = planes.index(x, y);
      for (int c = 0; c < 3; ++c) image.pixel(i)[c] = std::clamp(planes.plane[c][i] + kMiddle, 0.0F, 1.0F);
    }
  });
  return image;
}

QuickPainting::QuickPainting(const Net& net, Size picture)
    : pass_(net, canvasSide(net, picture.width), canvasSide(net, picture.height), NetPass::Use::painting) {}

Image QuickPainting::paint(const Image& photo) { return pass_.paint(photo, kMargin, kMargin); }

}  // namespace jugendstil
