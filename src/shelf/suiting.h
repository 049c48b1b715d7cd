// SPDX-License-Identifier: Apache-2.0
// Which references suit a photo, by what the shelf knows of them.
#pragma once

#include <string>

#include "shelf/measures.h"

namespace jugendstil {

// How a reference goes with a photo. All are 0 where nothing is in the way.
struct Suiting {
  double busier = 0;   // how much more goes on in the photo than the reference's brush-work can show, ln
  double calmer = 0;   // and how much less, ln
  double areas = 0;    // how far the reference's areas are from any of the photo's, in what goes on in them
  double colours = 0;  // how far the palettes are apart, in Oklab
  double tones = 0;    // and the tones
  double misfit = 0;   // of all of them: about the loss that a painting would end with
};

Suiting suiting(const PictureMeasures& photo, const PictureMeasures& reference);

// Why it is or is not a good one: "brush-work as fine as the photo's things, near in colour".
std::string whyItSuits(const Suiting& suiting);

}  // namespace jugendstil
