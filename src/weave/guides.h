// SPDX-License-Identifier: Apache-2.0
// What a drawing and the references that it is woven from are compared by.
#pragma once

#include <vector>

#include "weave/levels.h"

namespace jugendstil {

// Turns a level's layout and maps (RGB) into guides of four channels: its colours, softened about as far as a
// stroke's own edges reach, so that strokes are known by their tones and not by their grain; and how strong
// edges are around, so that what is calm in the drawing is woven of what is calm in the references. A drawing
// asks for strengths by rank: its calmest tenth for the references' calmest tenth, whatever these are.
void makeGuides(WeaveLevel& level);

// How much each pixel of a layout counts, from kCalm to 1: in full where it is drawn.
inline constexpr float kCalm = 0.07F;
std::vector<float> drawnIn(const Image& layout);

}  // namespace jugendstil
