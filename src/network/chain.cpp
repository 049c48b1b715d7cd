// SPDX-License-Identifier: Apache-2.0
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <sstream>

#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wconversion"
#pragma GCC diagnostic ignored "-Wpedantic"
#define ONNX_NAMESPACE onnx
#define ONNX_ML 1
#include <onnx/onnx_pb.h>
#pragma GCC diagnostic pop

#include "base/checksum.h"
#include "base/error.h"
#include "base/file.h"
#include "base/number.h"
#include "network/chain.h"

namespace jugendstil {
namespace {

constexpr std::size_t kMaxFileBytes = std::size_t{1} << 30;
constexpr std::int64_t kMaxValues = std::int64_t{1} << 27;
constexpr int kMaxChannels = 4096;

struct Constant {
  std::vector<std::int64_t> shape;
  std::vector<float> values;
};

// Walks the nodes from the picture to the last band and gathers the chain.
class Reader {
 public:
  Reader(const onnx::ModelProto& model, std::string file) : graph_(model.graph()), file_(std::move(file)) {
    for (const auto& entry : model.metadata_props()) metadata_[entry.key()] = entry.value();
  }

  Chain read() {
    chain_.name = graph_.name();
    readConstants();
    findInput();
    for (const auto& node : graph_.node()) take(node);
    tapBands();
    return std::move(chain_);
  }

 private:
  [[noreturn]] void fail(const std::string& why) const { throw Error(fmt::format("{}: {}", file_, why)); }

  [[noreturn]] void refuse(const onnx::NodeProto& node, const std::string& why) const {
    fail(fmt::format(
        "the operator {} ({}) does not fit: {}; a network here is a chain of Sub, Mul, 3x3 Conv, Relu and "
        "2x2 AveragePool",
        node.op_type(), node.output_size() > 0 ? node.output(0) : node.name(), why));
  }

  void readConstants() {
    for (const auto& tensor : graph_.initializer()) {
      Constant constant;
      std::int64_t count = 1;
      for (const std::int64_t d : tensor.dims()) {
        if (d < 1 || d > kMaxValues)
          fail(fmt::format("the weights {} have an impossible shape", tensor.name()));
        count *= d;
        if (count > kMaxValues) fail(fmt::format("the weights {} are too large", tensor.name()));
        constant.shape.push_back(d);
      }
      if (tensor.data_type() != onnx::TensorProto::FLOAT)
        fail(fmt::format("the weights {} are not 32-bit float", tensor.name()));
      if (tensor.data_location() == onnx::TensorProto::EXTERNAL) {
        fail(fmt::format("the weights {} lie in another file; save the network as one file", tensor.name()));
      }
      const std::size_t n = count;
      constant.values.resize(n);
      if (tensor.raw_data().size() == n * sizeof(float)) {
        std::memcpy(constant.values.data(), tensor.raw_data().data(), n * sizeof(float));
      } else if (static_cast<std::size_t>(tensor.float_data_size()) == n) {
        std::copy(tensor.float_data().begin(), tensor.float_data().end(), constant.values.begin());
      } else {
        fail(
            fmt::format("the weights {} have fewer or more values than their shape says; the file is damaged",
                        tensor.name()));
      }
      if (!std::all_of(constant.values.begin(), constant.values.end(),
                       [](float v) { return std::isfinite(v); })) {
        fail(fmt::format("the weights {} hold values that are not numbers", tensor.name()));
      }
      constants_[tensor.name()] = std::move(constant);
    }
  }

  void findInput() {
    for (const auto& input : graph_.input()) {
      if (constants_.count(input.name()) != 0) continue;
      if (!current_.empty()) fail("has more than one input; one RGB picture is expected");
      current_ = input.name();
    }
    if (current_.empty()) fail("has no input picture");
  }

  const Constant& constantInput(const onnx::NodeProto& node, int index) const {
    if (index >= node.input_size()) refuse(node, "an input is missing");
    const auto found = constants_.find(node.input(index));
    if (found == constants_.end())
      refuse(node, fmt::format("its input {} is not a constant", node.input(index)));
    return found->second;
  }

  void take(const onnx::NodeProto& node) {
    if (node.input_size() < 1 || node.output_size() != 1) refuse(node, "it needs an input and one output");
    if (node.input(0) != current_)
      refuse(node, fmt::format("it does not follow {}: the graph branches", current_));
    const std::string& op = node.op_type();
    if (op == "Sub")
      takeSub(node);
    else if (op == "Mul")
      takeMul(node);
    else if (op == "Conv")
      takeConv(node);
    else if (op == "Relu")
      takeRelu(node);
    else if (op == "AveragePool")
      takePool(node);
    else
      refuse(node, "it is of an unknown kind");
    current_ = node.output(0);
  }

  std::array<float, 3> perChannel(const onnx::NodeProto& node) const {
    if (!chain_.convolutions.empty()) refuse(node, "it stands behind a convolution");
    const Constant& c = constantInput(node, 1);
    if (c.values.size() == 1) return {c.values[0], c.values[0], c.values[0]};
    if (c.values.size() != 3) refuse(node, "its constant needs one value or three");
    return {c.values[0], c.values[1], c.values[2]};
  }

  // ((x - mean) * scale) is the stored form; a further Sub shifts the mean by what it is before scaling.
  void takeSub(const onnx::NodeProto& node) {
    const auto v = perChannel(node);
    for (std::size_t c = 0; c < 3; ++c) chain_.mean[c] += v[c] / chain_.scale[c];
  }

  void takeMul(const onnx::NodeProto& node) {
    const auto v = perChannel(node);
    for (std::size_t c = 0; c < 3; ++c) {
      if (v[c] == 0.0F) refuse(node, "it multiplies by zero");
      chain_.scale[c] *= v[c];
    }
  }

  std::vector<std::int64_t> ints(const onnx::NodeProto& node, const char* name,
                                 std::vector<std::int64_t> fallback) const {
    for (const auto& a : node.attribute()) {
      if (a.name() != name) continue;
      if (a.type() == onnx::AttributeProto::INT) return {a.i()};
      return {a.ints().begin(), a.ints().end()};
    }
    return fallback;
  }

  void requireInts(const onnx::NodeProto& node, const char* name, std::vector<std::int64_t> wanted,
                   const std::vector<std::int64_t>& fallback) const {
    const auto found = ints(node, name, fallback);
    if (found != wanted)
      refuse(node, fmt::format("its {} are {}, not {}", name, fmt::join(found, ","), fmt::join(wanted, ",")));
  }

  void requirePadding(const onnx::NodeProto& node, const std::vector<std::int64_t>& pads) const {
    for (const auto& a : node.attribute()) {
      if (a.name() == "auto_pad" && a.s() != "NOTSET") refuse(node, "it pads by itself (auto_pad)");
    }
    requireInts(node, "pads", pads, {0, 0, 0, 0});
  }

  void takeConv(const onnx::NodeProto& node) {
    if (!activated_) refuse(node, "the convolution before it has no Relu");
    const Constant& w = constantInput(node, 1);
    const Constant& b = constantInput(node, 2);
    const int inputs = chain_.convolutions.empty() ? 3 : chain_.convolutions.back().outputs;
    if (w.shape.size() != 4 || w.shape[1] != inputs || w.shape[0] > kMaxChannels) {
      refuse(node, fmt::format("its weights do not take {} channels", inputs));
    }
    const std::int64_t k = w.shape[2];
    if (w.shape[3] != k || (k != 1 && k != 3 && k != 5 && k != 7))
      refuse(node, "its kernel is not square and odd, up to 7x7");
    if (b.values.size() != static_cast<std::size_t>(w.shape[0]))
      refuse(node, "its bias does not match its weights");
    requirePadding(node, {k / 2, k / 2, k / 2, k / 2});
    requireInts(node, "strides", {1, 1}, {1, 1});
    requireInts(node, "dilations", {1, 1}, {1, 1});
    requireInts(node, "group", {1}, {1});
    Convolution conv;
    conv.name = node.output(0);
    conv.inputs = inputs;
    conv.outputs = static_cast<int>(w.shape[0]);
    conv.kernel = static_cast<int>(k);
    conv.poolBefore = pooled_;
    conv.weights = w.values;
    conv.bias = b.values;
    chain_.convolutions.push_back(std::move(conv));
    if (pooled_) stride_ *= 2;
    field_ += (static_cast<int>(k) - 1) * stride_;
    pooled_ = false;
    activated_ = false;
  }

  void takeRelu(const onnx::NodeProto& node) {
    if (activated_) refuse(node, "it does not follow a convolution");
    activated_ = true;
    taps_[node.output(0)] = {countOf(chain_.convolutions) - 1, stride_, field_};
  }

  void takePool(const onnx::NodeProto& node) {
    if (!activated_ || chain_.convolutions.empty() || pooled_) refuse(node, "it does not follow a Relu");
    requireInts(node, "kernel_shape", {2, 2}, {});
    requireInts(node, "strides", {2, 2}, {1, 1});
    requireInts(node, "ceil_mode", {0}, {0});
    requirePadding(node, {0, 0, 0, 0});
    pooled_ = true;
    field_ += stride_;
  }

  std::vector<std::string> listed(const char* key) const {
    std::vector<std::string> names;
    const auto found = metadata_.find(key);
    if (found == metadata_.end()) return names;
    std::istringstream stream(found->second);
    for (std::string name; std::getline(stream, name, ',');) names.push_back(name);
    return names;
  }

  void tapBands() {
    for (const auto& output : graph_.output()) {
      const auto found = taps_.find(output.name());
      if (found == taps_.end()) fail(fmt::format("its output {} is not behind a Relu", output.name()));
      const Tap& tap = found->second;
      const int channels = chain_.convolutions[tap.layer].outputs;
      chain_.bands.push_back({output.name(), tap.layer, channels, tap.stride, tap.field});
    }
    if (chain_.bands.empty()) fail("has no outputs to tap as bands");
    chain_.styleBands = listed("style_bands");
    chain_.contentBands = listed("content_bands");
    if (chain_.styleBands.empty()) {
      for (const Band& band : chain_.bands) chain_.styleBands.push_back(band.name);
    }
    if (chain_.contentBands.empty()) chain_.contentBands.push_back(chain_.bands.back().name);
    for (const auto* names : {&chain_.styleBands, &chain_.contentBands}) {
      for (const std::string& name : *names) chain_.bandIndex(name);
    }
  }

  struct Tap {
    int layer;
    int stride;
    int field;
  };

  const onnx::GraphProto& graph_;
  std::string file_;
  std::map<std::string, std::string> metadata_;
  std::map<std::string, Constant> constants_;
  std::map<std::string, Tap> taps_;
  std::string current_;
  bool activated_ = true;  // nothing before the first convolution waits for a Relu
  bool pooled_ = false;
  int stride_ = 1;
  int field_ = 1;
  Chain chain_;
};

}  // namespace

std::size_t Chain::bandIndex(const std::string& band) const {
  std::vector<std::string> names;
  for (std::size_t i = 0; i < bands.size(); ++i) {
    if (bands[i].name == band) return i;
    names.push_back(bands[i].name);
  }
  throw UsageError(fmt::format("the network has no band \"{}\"; it has {}", band, fmt::join(names, ", ")));
}

Chain readOnnx(const std::filesystem::path& path) {
  const std::string bytes = readFile(path, kMaxFileBytes);
  onnx::ModelProto model;
  if (bytes.empty() || !model.ParseFromString(bytes) || !model.has_graph() ||
      model.graph().node_size() == 0) {
    throw Error(fmt::format("{}: is not an ONNX network, or is truncated", path.string()));
  }
  Chain chain = Reader(model, path.string()).read();
  chain.checksum = checksum(bytes);
  return chain;
}

}  // namespace jugendstil
