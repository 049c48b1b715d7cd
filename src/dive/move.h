// SPDX-License-Identifier: Apache-2.0
// A picture moved a little: nearer, turned, aside.
#pragma once

#include "image/image.h"
#include "image/resample.h"
#include "motion/motion.h"

namespace jugendstil {

// From one frame to the next. Places and ways are parts of the picture's sides, so that a move is the same at
// any size.
struct Move {
  double zoom = 1;  // above 1 comes nearer
  double turn = 0;  // degrees, clockwise
  double shiftX = 0;
  double shiftY = 0;
  double centreX = 0.5;  // of zoom and turn, which stays where it is
  double centreY = 0.5;

  bool still() const { return zoom == 1 && turn == 0 && shiftX == 0 && shiftY == 0; }
};

// The picture as it is after a move, of the same size; what comes in from outside is mirrored. By a windowed
// sinc of eight lobes (Kaiser 1966): what is finer than the new pixels can hold goes, everything else stays
// as sharp as it was wherever it falls between pixels, so that neither softness creeps in over many moves nor
// rings of it stand where a move is half a pixel. Display-encoded values are moved as they stand: in linear
// light the sinc's lobes would draw dark lines around every bright one. A still picture comes back as it is.
// Values may leave [0, 1].
Image moved(const Image& picture, const Move& move);

// From the frame after a move back to the one before, exactly; trusted where it comes from inside.
Motion motionOf(const Move& move, Size size);

}  // namespace jugendstil
