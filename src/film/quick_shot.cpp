// SPDX-License-Identifier: Apache-2.0
#include "film/quick_shot.h"

#include "learn/paint_at_once.h"

namespace jugendstil {

QuickShot::QuickShot(const QuickPainter& painter, Size size, const PaintSettings& settings)
    : painter_(painter), settings_(settingsWith({&painter}, settings)), painting_(painter.net, size) {}

void QuickShot::begin(const Image& photo) {
  basis_ = painter_.references.empty() ? PaintBasis{} : paintBasis(photo, painter_.references, settings_);
  painting_.holdMoments({});
  painting_.paint(drawingOf(basis_, photo));
  painting_.holdMoments(painting_.moments());
}

Image QuickShot::paint(const Image& photo) { return painting_.paint(drawingOf(basis_, photo)); }

}  // namespace jugendstil
