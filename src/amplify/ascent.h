// SPDX-License-Identifier: Apache-2.0
// Patterns strengthened at one size of the picture.
#pragma once

#include <functional>
#include <vector>

#include "amplify/drive.h"
#include "image/image.h"
#include "network/chain.h"
#include "paint/level.h"

namespace jugendstil {

// How far one picture is from another: root mean square over pixels of their distance in opponent axes.
double distanceOf(const Image& a, const Image& b);

struct AscentSettings {
  double reach = 0;     // how far the picture may go from the photo, as distanceOf() has it
  double pattern = 0;   // how large patterns are, pixels: what is broader than these hardly moves
  double likeness = 0;  // 0 to 100, as in painting; 0 holds nothing
  bool colours = true;  // whether chroma moves
  Precision precision = Precision::full;
  // Steps along the gradient, as long as it is, in place of Adam's: a step or two of his move every
  // coefficient alike, and the still parts of a picture with them.
  bool plain = false;
};

// Told before each step of its number, from 0, and given what gives the picture as it stands; may throw.
using AscentStep = std::function<void(int step, const std::function<Image()>& picture)>;

// Goes up from `start` by gradient ascent in the pyramid of opponent planes, like a painting, for the level's
// steps, and never further from `photo` than the reach. Both are RGB, display-encoded, of the level's picture
// size; so is the result, whose values may leave [0, 1].
Image strengthened(const Chain& chain, const std::vector<BandDrive>& drives, const LevelPlan& level,
                   const Image& photo, const Image& start, const AscentSettings& settings,
                   const AscentStep& step);

}  // namespace jugendstil
