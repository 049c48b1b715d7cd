// SPDX-License-Identifier: Apache-2.0
// ONNX files.
#pragma once

#include <filesystem>

#include "network/onnx_graph.h"

namespace jugendstil {

// Nodes that give a constant, or another name for one, are among the constants, whole numbers as floats.
// Throws Error where the file is no ONNX network or damaged, or a constant is not of finite floats (16, 32 or
// 64 bits) or whole numbers, in this file or one beside it; DiskError where it cannot be read.
OnnxGraph readOnnxGraph(const std::filesystem::path& path);

// Writes opset 13, atomically; equal graphs give equal bytes. Throws as AtomicFile does.
void writeOnnxGraph(const std::filesystem::path& path, const OnnxGraph& graph);

}  // namespace jugendstil
