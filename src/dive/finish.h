// SPDX-License-Identifier: Apache-2.0
// From the frames of a dive to its file.
#pragma once

#include "dive/inputs.h"
#include "dive/plan.h"
#include "film/journal.h"
#include "film/progress.h"

namespace jugendstil {

// Closes the loop, lays brush-work in, led along the dive's own motion, and writes the film with its sound.
// Throws Stopped, Error: disk full, encoder trouble.
void finishDive(const DiveInputs& inputs, const DivePlan& plan, const Journal& journal,
                const FilmCallbacks& callbacks);

}  // namespace jugendstil
