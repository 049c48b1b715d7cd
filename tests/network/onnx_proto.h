// SPDX-License-Identifier: Apache-2.0
// ONNX's own types, for tests that write files as other programs do.
#pragma once

#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wconversion"
#pragma GCC diagnostic ignored "-Wpedantic"
#define ONNX_NAMESPACE onnx
#define ONNX_ML 1
#include <onnx/onnx_pb.h>
#pragma GCC diagnostic pop
