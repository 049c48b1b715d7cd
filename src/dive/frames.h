// SPDX-License-Identifier: Apache-2.0
// The frames of a dive, one out of the other.
#pragma once

#include <string>

#include "dive/inputs.h"
#include "dive/keel.h"
#include "dive/plan.h"
#include "film/journal.h"
#include "film/progress.h"
#include "image/layer.h"

namespace jugendstil {

// The start at that size: the picture, or noise.
Image startOf(const DiveInputs& inputs, Size size);

// How a frame that was made lies over what it was made of; and how it does when it has its keel, so that
// nothing outside the mask changes.
Layer diveLayer(const DiveInputs& inputs, Size size);
Layer diveMask(const DiveInputs& inputs, Size size);

// What is kept in the journal of the start made in full, key by key.
inline constexpr const char* kWhole = "whole";

// What a frame is held to.
Keel keelAt(const Keels& keels, const DiveFrame& frame, double strongest);

// Makes all frames of the plan that the journal does not have. Throws Stopped, DiskError.
void makeDiveFrames(const DiveInputs& inputs, const DivePlan& plan, Journal& journal,
                    const FilmCallbacks& callbacks);

// What is wrong with a frame that was made out of `moved`: not a number, noise, too far from it. Empty where
// nothing is. `wanted` is the keel that it should have.
std::string troubleWith(const Image& made, const Image& moved, const Keel& wanted);

}  // namespace jugendstil
