#include "image/planes.h"

#include <algorithm>

#include "image/colour.h"
#include "image/parallel.h"

namespace jugendstil {
namespace {

JUGENDSTIL_VECTORISED
void turn(const float* a, const float* b, const float* c, float* out, float wa, float wb, float wc,
          std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) out[i] = wa * a[i] + wb * b[i] + wc * c[i];
}

void turnAll(const Planes& from, Planes& to, bool transpose) {
  const auto width = static_cast<std::size_t>(from.width);
  parallelFor(from.height, [&](int y) {
    const std::size_t at = static_cast<std::size_t>(y) * width;
    const float* row[3] = {&from.plane[0][at], &from.plane[1][at], &from.plane[2][at]};
    std::vector<float> copy;
    if (&from == &to) {
      copy.resize(3 * width);
      for (std::size_t k = 0; k < 3; ++k) {
        std::copy_n(row[k], width, &copy[k * width]);
        row[k] = &copy[k * width];
      }
    }
    for (std::size_t k = 0; k < 3; ++k) {
      const auto w = [&](std::size_t j) { return transpose ? kOpponent[j][k] : kOpponent[k][j]; };
      turn(row[0], row[1], row[2], &to.plane[k][at], w(0), w(1), w(2), width);
    }
  });
}

}  // namespace

void opponentToRgb(const Planes& opponent, Planes& rgb) { turnAll(opponent, rgb, true); }
void rgbToOpponent(const Planes& rgb, Planes& opponent) { turnAll(rgb, opponent, false); }

Planes opponentOf(const Image& rgb) {
  Planes planes(rgb.width, rgb.height);
  for (std::size_t i = 0; i < rgb.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c)
      planes.plane[c][i] = rgb.pixels[i * static_cast<std::size_t>(rgb.channels) + c];
  }
  Planes opponent(rgb.width, rgb.height);
  rgbToOpponent(planes, opponent);
  return opponent;
}

Image imageOf(const Planes& opponent) {
  Planes rgb(opponent.width, opponent.height);
  opponentToRgb(opponent, rgb);
  Image image(opponent.width, opponent.height, 3);
  for (std::size_t i = 0; i < image.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) image.pixels[i * 3 + c] = rgb.plane[c][i];
  }
  return image;
}

}  // namespace jugendstil
