// SPDX-License-Identifier: Apache-2.0
// The passes over a film's frames, each going on from what the journal holds.
#pragma once

#include "film/frame_maker.h"
#include "film/work.h"

namespace jugendstil {

// From the first frame to the last. A frame that fails is tried again more carefully, then left to
// fillGaps(); what goes wrong with the disk ends the run with an Error.
void passForward(FilmWork& work, FrameMaker& maker);

// Frames that failed or could not be read, made from their neighbours.
void fillGaps(FilmWork& work);

// From the last frame to the first, each led by the one after it as much as by itself (after the multi-pass
// scheme of Ruder, Dosovitskiy & Brox 2016).
void passBackward(FilmWork& work, FrameMaker& maker);

}  // namespace jugendstil
