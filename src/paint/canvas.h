// SPDX-License-Identifier: Apache-2.0
// Pictures with the margin that a level is painted with.
#pragma once

#include "image/planes.h"
#include "network/evaluator.h"
#include "paint/level.h"

namespace jugendstil {

// The picture continued by reflection to the level's canvas.
Image toCanvas(const Image& picture, const LevelPlan& plan);

// The canvas with the picture put into its middle.
Image withMargin(const Image& picture, const Image& canvas, const LevelPlan& plan);

// Without the margin.
Image fromCanvas(const Planes& opponent, const LevelPlan& plan);

// Shows a picture of the evaluator's size (RGB) to it. What is returned must live until the last question
// about it.
[[nodiscard]] Planes forwardPicture(Evaluator& evaluator, const Image& picture);

}  // namespace jugendstil
