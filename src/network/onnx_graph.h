// SPDX-License-Identifier: Apache-2.0
// What stands in an ONNX file, as plain data.
#pragma once

#include <cstdint>
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

}  // namespace jugendstil
