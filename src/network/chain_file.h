// SPDX-License-Identifier: Apache-2.0
// Feature networks as ONNX files.
#pragma once

#include <filesystem>

#include "network/chain.h"

namespace jugendstil {

// Reads an ONNX file (opset 7 to 19) whose outputs are bands, with roles in its metadata. Throws Error that
// names the first operator that does not fit, or says what is damaged.
Chain readOnnx(const std::filesystem::path& path);

// The same; but of a network whose outputs are no bands its layers, as far as they can be taken, without
// bands, and among the notes what cannot be taken and whether it says what it wants of colours. Throws Error
// where there is no layer at all.
Chain readAnyOnnx(const std::filesystem::path& path);

}  // namespace jugendstil
