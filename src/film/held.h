// SPDX-License-Identifier: Apache-2.0
// Parts of a film's frames that have a likeness of their own.
#pragma once

#include <vector>

#include "film/inputs.h"
#include "paint/likeness.h"

namespace jugendstil {

// The likeness of a frame (RGB): masks lie still over all frames, faces are looked for in each one.
Likeness likenessIn(const Image& frame, double usual, const std::vector<FilmHold>& holds);

}  // namespace jugendstil
