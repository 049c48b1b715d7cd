// SPDX-License-Identifier: Apache-2.0
#include "dive/maker.h"

namespace jugendstil {

std::unique_ptr<DiveMaker> makeDiveMaker(const DiveInputs& inputs, const DivePlan& plan, const Image& start) {
  switch (inputs.settings.by) {
    case DiveBy::paint:
      return makeDivePainter(inputs, plan, start);
    case DiveBy::quick:
      return makeQuickDiver(inputs, plan, start);
    case DiveBy::amplify:
      break;
  }
  return makeAmplifier(inputs, plan, start);
}

Image mixedPictures(const Image& a, const Image& b, double part) {
  Image out = a;
  for (std::size_t i = 0; i < out.pixels.size(); ++i)
    out.pixels[i] += static_cast<float>(part) * (b.pixels[i] - out.pixels[i]);
  return out;
}

}  // namespace jugendstil
