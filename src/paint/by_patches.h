// SPDX-License-Identifier: Apache-2.0
// A photo made of its references' own patches, woven instead of optimised.
#pragma once

#include <functional>

#include "image/image.h"
#include "image/resample.h"
#include "paint/regions.h"
#include "paint/settings.h"

namespace jugendstil {

// The photo woven along (weave/along.h) after the references, each part after its own, in its palette and
// laid over the photo; RGB, display-encoded. Of the settings these count: likeness, stroke, palette, trim,
// longEdge, opacity, blend and seed; inputs.start is not looked at. The same bytes for any number of threads.
// Progress is told from 0 to 1 and may throw Stopped. Throws UsageError, as regionsOf does, and Error for a
// photo that is too small.
Image paintByPatches(const PaintInputs& inputs, const PaintSettings& settings,
                     const std::function<void(double)>& progress);

// The pixels that are woven for it: those around all that counts of each part.
double pixelsByPatches(const PaintInputs& inputs, const PaintSettings& settings);

// The size of the result.
Size sizeByPatches(const PaintInputs& inputs, const PaintSettings& settings);

}  // namespace jugendstil
