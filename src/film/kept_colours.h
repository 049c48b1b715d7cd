// SPDX-License-Identifier: Apache-2.0
// Colours that neither fade nor creep while a shot goes on.
#pragma once

#include "film/lead.h"
#include "film/painted_frame.h"

namespace jugendstil {

// The painted frame with its coarse colours as they were: each frame is drawn a little towards the
// references' palette, which nobody sees from one frame to the next, but after seconds a thing would have
// sunk into its surroundings. Coarse differences from the lead are taken back as far as `lead.settled` says,
// but for what the drawing itself has changed since `drawingBefore` (carried along to this frame): light that
// comes and goes in the clip stays. `drawing` and `drawingBefore` have the painted size; a strength of 1 is
// all of it, 0 nothing. Without `lead.settled` the frame comes back as it is.
PaintedFrame withKeptColours(PaintedFrame painted, const Lead& lead, const Image& drawing,
                             const Image& drawingBefore, double strength);

}  // namespace jugendstil
