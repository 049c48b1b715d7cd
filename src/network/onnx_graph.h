// SPDX-License-Identifier: Apache-2.0
// What stands in an ONNX file, as plain data.
#pragma once

#include <cstdint>
#include <filesystem>
#include <map>
#include <string>
#include <vector>

namespace jugendstil {

struct OnnxConstant {
  std::vector<std::int64_t> shape;
  std::vector<float> values;
};

struct OnnxNode {
  std::string op;
  std::string name;
  std::vector<std::string> inputs;
  std::vector<std::string> outputs;
  std::map<std::string, std::vector<std::int64_t>> ints;  // attributes, single numbers too
  std::map<std::string, float> floats;
  std::map<std::string, std::string> strings;

  // An attribute, or what holds where it is not given.
  std::vector<std::int64_t> intsOr(const std::string& attribute,
                                   const std::vector<std::int64_t>& otherwise) const;

  // For messages: its operator, and what it gives.
  std::string label() const;
};

// A picture that goes in or comes out; names in the shape stand for sides that may be of any length.
struct OnnxPicture {
  std::string name;
  std::vector<std::string> shape;  // each a number or a name
};

struct OnnxGraph {
  std::string name;
  std::vector<OnnxPicture> inputs;  // without those that are constants
  std::vector<OnnxPicture> outputs;
  std::vector<OnnxNode> nodes;  // in the order of computing
  std::map<std::string, OnnxConstant> constants;
  std::map<std::string, std::string> metadata;
  std::string checksum;  // of the file
};

// Nodes that give a constant, or another name for one, are among the constants, whole numbers as floats.
// Throws Error where the file is no ONNX network or damaged, or a constant is not of finite floats (16, 32 or
// 64 bits) or whole numbers, in this file or one beside it; DiskError where it cannot be read.
OnnxGraph readOnnxGraph(const std::filesystem::path& path);

// Writes opset 13, atomically; equal graphs give equal bytes. Throws as AtomicFile does.
void writeOnnxGraph(const std::filesystem::path& path, const OnnxGraph& graph);

}  // namespace jugendstil
