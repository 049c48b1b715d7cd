// SPDX-License-Identifier: Apache-2.0
// Quick painters as files: NAME.painter.onnx, which any ONNX runtime paints with.
#pragma once

#include <filesystem>
#include <map>
#include <string>

#include "learn/net.h"
#include "network/onnx_graph.h"

namespace jugendstil {

// The name of the graph in a general painter's file, which is no painter's.
inline constexpr const char* kGeneralPainterGraph = "general painter";

struct Painter {
  Net net;
  // What it was learned from and how, by key; for people and for other programs.
  std::map<std::string, std::string> notes;
};

// Standard operators of opset 13: `picture` (1 x 3 x height x width, display-encoded RGB from 0 to 1, sides
// that are multiples of the net's largest shrink) to `painting` of the same size and range. Equal painters
// give equal bytes. Throws as AtomicFile does.
void writePainter(const std::filesystem::path& path, const Painter& painter);

// What writePainter wrote, or what another program did (otherPaintersNet). Throws Error that names the first
// operator that does not fit, or says what is damaged; DiskError where it cannot be read.
Painter readPainter(const std::filesystem::path& path);

// The same as a graph, and out of one whose name is that of our own painters; `file` is for messages.
OnnxGraph painterGraph(const Painter& painter);
Painter painterOf(const OnnxGraph& graph, const std::string& file);

}  // namespace jugendstil
