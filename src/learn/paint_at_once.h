// SPDX-License-Identifier: Apache-2.0
// Whole paintings by quick painters: the same colours, parts, brush-work and layers as optimised ones have.
#pragma once

#include <functional>
#include <vector>

#include "learn/quick_painter.h"
#include "paint/painter.h"

namespace jugendstil {

// What paints a picture: one for all that no part covers, null where that stays the photo; and one for each
// part of the inputs.
struct PainterChoice {
  const QuickPainter* whole = nullptr;
  std::vector<const QuickPainter*> parts{};

  const QuickPainter& first() const { return whole != nullptr ? *whole : *parts.front(); }
};

// The settings as the painters have learned them: theirs where a painter has them once and for all, the
// others as they are given. Brush-work is left out where a painter has no references for it.
PaintSettings settingsWith(const PainterChoice& painters, const PaintSettings& settings);

// Its sizes and its memory; of settings as settingsWith gives them.
PaintPlan planWith(const PainterChoice& painters, Size photo, const PaintSettings& settings);

// The inputs with the painters' references in place of their own.
PaintInputs inputsWith(const PainterChoice& painters, PaintInputs inputs);

// Photo, masks and settings as for paint(); references as inputsWith gives them. The working size only is
// painted where `brushwork` is no in the settings. Progress may throw Stopped, which goes through. Same
// inputs, settings and processor give the same bytes.
PaintResult paintAtOnce(const PainterChoice& painters, const PaintInputs& inputs,
                        const PaintSettings& settings,
                        const std::function<void(const PaintProgress&)>& progress);

}  // namespace jugendstil
