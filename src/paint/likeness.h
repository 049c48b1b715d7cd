// SPDX-License-Identifier: Apache-2.0
// How strongly the photo's drawing is held, here and there.
#pragma once

#include <vector>

#include "image/image.h"
#include "image/resample.h"
#include "style/content.h"

namespace jugendstil {

// A part of the picture that has its own likeness.
struct HeldPart {
  Image mask;           // 1 channel, any size, white where it holds; in between it goes over
  double likeness = 0;  // 0 to 100
};

struct Likeness {
  double usual = 50;  // 0 to 100
  Image here{};       // 1 channel of any size, 0 to 1 for 0 to 100; empty: the usual one everywhere
};

// Where parts overlap, the later one lies above. Throws UsageError for a mask that is black all over.
Likeness likenessWith(double usual, const std::vector<HeldPart>& parts, Size picture);

// The weight of the content term for a likeness from 0 to 100.
double contentWeight(double likeness, ContentKind kind);

// That of the layout (style/layout.h).
double layoutWeight(double likeness);

// What content and layout count at each place, beside the weights of the usual likeness: 1 channel of this
// size, or empty where all is as usual.
Image heldMore(const Likeness& likeness, Size size);

}  // namespace jugendstil
