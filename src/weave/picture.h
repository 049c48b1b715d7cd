// SPDX-License-Identifier: Apache-2.0
// The picture that a woven piece shows.
#pragma once

#include <functional>
#include <vector>

#include "image/image.h"
#include "weave/atlas.h"
#include "weave/woven.h"

namespace jugendstil {

// Each pixel as its spot has it; near joins it goes over into what its neighbours' spots go on to, just so
// far that steps across joins are as strong, in sum, as the swatches' own steps are at these places: more
// would be seen as blur, less as a cut. The atlas is that of the finest level; swatches are RGB,
// display-encoded, of the sizes that its parts have. Progress is told from 0 to 1 and may throw Stopped.
Image pictureOf(const Woven& piece, const Atlas& atlas, const std::vector<Image>& swatches,
                const std::function<void(double)>& progress);

}  // namespace jugendstil
