// SPDX-License-Identifier: Apache-2.0
// Local contrast: detail bands between edge-preserving averages, and their strength.
#pragma once

#include <algorithm>
#include <array>
#include <functional>
#include <vector>

#include "image/image.h"

namespace jugendstil {

inline constexpr std::size_t kDetailBands = 3;  // fine, medium, broad

// A pixel's luma taken apart: base + fine + medium + broad. The bands lie between the picture and its
// averages by guided filters (He, Sun & Tang 2013) of 1/256, 1/64 and 1/20 of the long edge, whose edges
// stay, so that changing a band gives no halos.
struct PixelDetail {
  float base = 0;
  std::array<float, 3> band{};
  float texture = 1;  // 0 where there is nothing but noise, 1 in detail
};

// Of every pixel of a reduced picture. The strength of a band is the mean of its absolute values (Bae, Paris
// & Durand 2006).
std::vector<PixelDetail> detailOf(const Image& reduced);

// A tone curve's slope as far as local contrast makes up for it.
inline float boundedSlope(float slope) { return std::clamp(slope, 0.4F, 2.5F); }

// How much the bands of a picture shall be strengthened, and by what the tone curve will then multiply them.
struct DetailChange {
  std::array<double, 3> gain{1, 1, 1};
  std::function<float(float)> toneSlope;  // at a tone; empty: 1 everywhere
};

// One display-encoded colour after the change: multiplied, so hues stay; nothing is pushed over 1 that was
// not.
std::array<float, 3> detailChanged(const std::array<float, 3>& rgb, const PixelDetail& detail,
                                   const DetailChange& change);

// The change of local contrast of one picture: new luma = scale * luma + offset, with both fields small and
// smooth, so that a picture of any size is changed row by row from them.
class DetailMap {
 public:
  // From the reduced picture. The gains are divided by the tone curve's slope, so that together they come out
  // as asked; flat places, where there is only noise, are not strengthened.
  DetailMap(const Image& reduced, const DetailChange& change);

  // Changes row y of a picture of the given size, display-encoded RGB(A), in place.
  void apply(float* row, int y, int width, int height, int channels) const;

 private:
  int width_;
  int height_;
  std::vector<float> scale_;
  std::vector<float> offset_;
};

}  // namespace jugendstil
