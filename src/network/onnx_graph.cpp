// SPDX-License-Identifier: Apache-2.0
#include "network/onnx_graph.h"

#include <fmt/format.h>

namespace jugendstil {

std::vector<std::int64_t> OnnxNode::intsOr(const std::string& attribute,
                                           const std::vector<std::int64_t>& otherwise) const {
  const auto found = ints.find(attribute);
  return found != ints.end() ? found->second : otherwise;
}

std::string OnnxNode::label() const {
  return fmt::format("the operator {} ({})", op, outputs.empty() ? name : outputs.front());
}

}  // namespace jugendstil
