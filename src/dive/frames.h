// SPDX-License-Identifier: Apache-2.0
// The frames of a dive, one out of the other.
#pragma once

#include <string>

#include "dive/inputs.h"
#include "dive/keel.h"
#include "dive/plan.h"
#include "film/journal.h"
#include "film/progress.h"

namespace jugendstil {

// The start at that size: the picture, or noise.
Image startOf(const DiveInputs& inputs, Size size);

// Makes all frames of the plan that the journal does not have. Throws Stopped, DiskError.
void makeDiveFrames(const DiveInputs& inputs, const DivePlan& plan, Journal& journal,
                    const FilmCallbacks& callbacks);

// What is wrong with a frame that was made out of `moved`: not a number, noise, too far from it. Empty where
// nothing is. `wanted` is the keel that it should have.
std::string troubleWith(const Image& made, const Image& moved, const Keel& wanted);

}  // namespace jugendstil
