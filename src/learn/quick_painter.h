// SPDX-License-Identifier: Apache-2.0
// A quick painter: a net with what it was learned from, which is enough to paint as optimised paintings are
// painted: in the references' colours, with their brush-work.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "learn/net.h"
#include "learn/settings.h"
#include "paint/basis.h"

namespace jugendstil {

struct QuickPainter {
  Net net;  // paints drawings (drawingOf), or photos where there are no references
  AffineColourMap colours = kOwnColours;  // of photos like those that it learned on, for other programs
  LearnSettings settings;
  std::vector<PaintReference> references;  // trimmed, with shares; none in painters of other programs
};

// NAME.painter.onnx. The references are in it as pictures of up to 1536 pixels a side, in 8 bits; `recipe` is
// the text of how it was learned. Its first layer has the colours, so that other programs paint with it as it
// is. Equal painters give equal bytes. Throws as writePainter does.
void writeQuickPainter(const std::filesystem::path& path, const QuickPainter& painter,
                       const std::string& recipe);

// Its net's own first layer changes no colours where there are references: drawings have them already. Throws
// as readPainter does, and Error where what is said of the references is damaged.
QuickPainter readQuickPainter(const std::filesystem::path& path);

}  // namespace jugendstil
