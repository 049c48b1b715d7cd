// SPDX-License-Identifier: Apache-2.0
// A quick painter in one shot of a film after another.
#pragma once

#include "image/resample.h"
#include "learn/quick_painter.h"
#include "learn/quick_painting.h"
#include "paint/basis.h"

namespace jugendstil {

// Each shot keeps the colours and the moments of its first frame, so that nothing pumps.
class QuickShot {
 public:
  // Frames have this size. The painter must live as long. Throws as QuickPainting does.
  QuickShot(const QuickPainter& painter, Size size, const PaintSettings& settings);

  void begin(const Image& photo);
  // RGB in [0, 1].
  Image paint(const Image& photo);

 private:
  const QuickPainter& painter_;
  PaintSettings settings_;
  QuickPainting painting_;
  PaintBasis basis_;
};

}  // namespace jugendstil
