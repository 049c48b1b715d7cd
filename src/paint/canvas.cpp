// SPDX-License-Identifier: Apache-2.0
#include "paint/canvas.h"

#include <algorithm>

#include "base/number.h"

namespace jugendstil {

Image toCanvas(const Image& picture, const LevelPlan& plan) {
  return mirrorPad(picture, plan.left, plan.top, plan.canvas.width - plan.picture.width - plan.left,
                   plan.canvas.height - plan.picture.height - plan.top);
}

Image withMargin(const Image& picture, const Image& canvas, const LevelPlan& plan) {
  Image out = canvas;
  for (int y = 0; y < picture.height; ++y) {
    std::copy_n(picture.row(y), picture.rowLength(), &out.pixels[out.index(plan.left, plan.top + y, 0)]);
  }
  return out;
}

Image fromCanvas(const Planes& opponent, const LevelPlan& plan) {
  return imageOf(opponent, plan.left, plan.top, plan.picture.width, plan.picture.height);
}

Planes forwardPicture(Evaluator& evaluator, const Image& picture) {
  Planes rgb(picture.width, picture.height);
  opponentToRgb(opponentOf(picture), rgb);
  evaluator.forward(rgb.plane[0], rgb.plane[1], rgb.plane[2]);
  return rgb;
}

}  // namespace jugendstil
