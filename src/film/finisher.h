// SPDX-License-Identifier: Apache-2.0
// From finished frames to the file: masks and opacity, figures, encoding.
#pragma once

#include <vector>

#include "film/figures.h"
#include "film/key_leads.h"
#include "film/mask_track.h"
#include "film/work.h"

namespace jugendstil {

// Gives each painted frame its finest detail, lays it over the photo as mask and opacity ask, measures its
// steadiness along the source's motion, and writes the result. Throws Error: disk full, encoder trouble.
std::vector<FrameFigures> finishFilm(FilmWork& work, const ClipInfo& clip, const KeyLeads& keys,
                                     MaskTrack* mask);

}  // namespace jugendstil
