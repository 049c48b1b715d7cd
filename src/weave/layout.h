// SPDX-License-Identifier: Apache-2.0
// What a layout's colours stand for.
#pragma once

#include <string>

#include "image/image.h"

namespace jugendstil {

// Throws UsageError where a layout has an area of a colour that the swatch's map has nowhere; it is named by
// its colour and place. Both RGB, display-encoded. Colours between two of the map, as soft borders have them,
// are no areas.
void requireColoursOf(const Image& layout, const Image& map);

// A swatch's own tones as its map: 0 in its darkest third, 1 in its lightest, and between them by how many of
// its places are darker. A place's tone is the mean of a square of about a sixteenth of the edge. RGB, grey.
Image toneMap(const Image& swatch);

// A drawing in the same terms: its darkest tone is 0 and its lightest 1. RGB, grey.
Image toneWish(const Image& drawing);

}  // namespace jugendstil
