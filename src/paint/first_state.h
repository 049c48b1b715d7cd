// SPDX-License-Identifier: Apache-2.0
// What a painting is begun with.
#pragma once

#include <string_view>

#include "image/resample.h"
#include "paint/regions.h"

namespace jugendstil {

// Whether settings.start is one of our words ("photo", "quick", "reference", "noise", "grey-noise") and not a
// file.
bool startIsWord(std::string_view start);

// By settings.start: the drawing; the first reference; soft noise about the references' mean colour, in
// colours or in greys; or inputs.start where it is a file. Pictures of another format than the
// painting are cut to it around their middle. RGB, of any size but noise, which has the one given.
Image firstState(const PaintInputs& inputs, const Image& drawing, const PaintSettings& settings, Size noise,
                 Size format);

}  // namespace jugendstil
