// SPDX-License-Identifier: Apache-2.0
// How wide edges are, and steeper ones.
#pragma once

#include "image/image.h"

namespace jugendstil {

// The width of a picture's strong edges in pixels: over all pixels at which lightness is steepest along its
// own slope and changes by a quarter or more from one end of the slope to the other (at most 5 pixels to each
// side), the median of that change over the steepness. RGB, display-encoded. 0 where there are hardly any.
double edgeWidth(const Image& picture);

// Edges drawn together: one step of a shock filter (Osher & Rudin 1990, "Feature-oriented image enhancement
// using shock filters"), which moves each pixel towards the darker or the lighter side by the sign of the
// second derivative along the slope (of lightness softened a little, Alvarez & Mazorra 1994); the less, the
// fainter the slope is. `pace` is the part of the difference to the neighbour that is taken, up to 0.5. No
// pixel leaves the range of its neighbours.
void steepenEdges(Image& picture, float pace);

}  // namespace jugendstil
