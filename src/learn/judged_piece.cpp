// SPDX-License-Identifier: Apache-2.0
#include "learn/judged_piece.h"

#include <algorithm>

#include "learn/quick_painting.h"
#include "style/surface.h"

namespace jugendstil {
namespace {

// Optimised paintings move the finest part of chroma the least; a net does not know which part it moves.
constexpr double kCalmChroma = 20;

Planes withoutMargin(const Planes& canvas, int side) {
  Planes square(side, side);
  for (std::size_t c = 0; c < 3; ++c) {
    for (int y = 0; y < side; ++y) {
      const float* from = &canvas.plane[c][canvas.index(kPieceMargin, kPieceMargin + y)];
      std::transform(from, from + side, &square.plane[c][square.index(0, y)],
                     [](float v) { return v + kMiddle; });
    }
  }
  return square;
}

Planes withMargin(const Planes& square, int canvas) {
  Planes planes(canvas, canvas);
  for (std::size_t c = 0; c < 3; ++c) {
    for (int y = 0; y < square.height; ++y)
      std::copy_n(&square.plane[c][square.index(0, y)], square.width,
                  &planes.plane[c][planes.index(kPieceMargin, kPieceMargin + y)]);
  }
  return planes;
}

}  // namespace

JudgedPiece judgedPiece(const Planes& painted, Easel& easel, std::uint64_t draw) {
  const int side = painted.width - 2 * kPieceMargin;
  Planes painting = withoutMargin(painted, side);
  rgbToOpponent(painting, painting);
  Planes slope(side, side);
  JudgedPiece judged;
  judged.loss = easel.objective().evaluate(painting, draw, slope);
  smoothness(painting, 0, kCalmChroma, slope);
  // The change of axes is a rotation: gradients turn as values do.
  opponentToRgb(slope, slope);
  judged.slope = withMargin(slope, painted.width);
  return judged;
}

}  // namespace jugendstil
