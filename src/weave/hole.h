// SPDX-License-Identifier: Apache-2.0
// Holes in pictures, before they are filled.
#pragma once

#include "image/image.h"

namespace jugendstil {

// The picture with what lies under the hole (above 0) replaced by the smoothest that goes on from its edges:
// what was there is not to be seen in any mean taken near by (Gortler, Grzeszczuk, Szeliski & Cohen 1996,
// pull and push).
Image smoothedOver(const Image& picture, const Image& hole);

// 1 where nothing may be taken from: the hole, and around it as far as windows reach.
Image closedAround(const Image& hole);

// How far its middle is from its edges, at the most, both ways together, in pixels.
int depthOf(const Image& hole);

}  // namespace jugendstil
