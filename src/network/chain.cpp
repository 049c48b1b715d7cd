// SPDX-License-Identifier: Apache-2.0
#include "network/chain.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <map>
#include <sstream>

#include "base/error.h"
#include "base/number.h"
#include "network/onnx_graph.h"

namespace jugendstil {
namespace {

constexpr int kMaxChannels = 4096;
constexpr std::int64_t kMaxKernel = 11;
constexpr const char* kStyleBands = "style_bands";
constexpr const char* kContentBands = "content_bands";

// Walks the nodes from the picture to the last band and gathers the chain.
class Reader {
 public:
  Reader(const OnnxGraph& graph, std::string file) : graph_(graph), file_(std::move(file)) {}

  Chain read() {
    chain_.name = graph_.name;
    chain_.checksum = graph_.checksum;
    chain_.notes = graph_.metadata;
    for (const char* told : {kStyleBands, kContentBands, "receptive_field"}) chain_.notes.erase(told);
    findInput();
    for (const OnnxNode& node : graph_.nodes) take(node);
    tapBands();
    return std::move(chain_);
  }

 private:
  [[noreturn]] void fail(const std::string& why) const { throw Error(fmt::format("{}: {}", file_, why)); }

  [[noreturn]] void refuse(const OnnxNode& node, const std::string& why) const {
    fail(
        fmt::format("{} does not fit: {}; a network here is a chain of Sub, Mul, Conv, Relu and 2x2 "
                    "AveragePool or MaxPool",
                    node.label(), why));
  }

  void findInput() {
    if (graph_.inputs.size() > 1) fail("has more than one input; one RGB picture is expected");
    if (graph_.inputs.empty()) fail("has no input picture");
    current_ = graph_.inputs.front().name;
  }

  const OnnxConstant& constantInput(const OnnxNode& node, std::size_t index) const {
    if (index >= node.inputs.size()) refuse(node, "an input is missing");
    const auto found = graph_.constants.find(node.inputs[index]);
    if (found == graph_.constants.end())
      refuse(node, fmt::format("its input {} is not a constant", node.inputs[index]));
    return found->second;
  }

  void take(const OnnxNode& node) {
    if (node.inputs.empty() || node.outputs.size() != 1) refuse(node, "it needs an input and one output");
    if (node.inputs[0] != current_)
      refuse(node, fmt::format("it does not follow {}: the graph branches", current_));
    const std::string& op = node.op;
    if (op == "Sub")
      takeSub(node);
    else if (op == "Mul")
      takeMul(node);
    else if (op == "Conv")
      takeConv(node);
    else if (op == "Relu")
      takeRelu(node);
    else if (op == "AveragePool")
      takePool(node, Pooling::average);
    else if (op == "MaxPool")
      takePool(node, Pooling::maximum);
    else
      refuse(node, "it is of an unknown kind");
    current_ = node.outputs[0];
  }

  std::array<float, 3> perChannel(const OnnxNode& node) const {
    if (!chain_.convolutions.empty()) refuse(node, "it stands behind a convolution");
    const OnnxConstant& c = constantInput(node, 1);
    if (c.values.size() == 1) return {c.values[0], c.values[0], c.values[0]};
    if (c.values.size() != 3) refuse(node, "its constant needs one value or three");
    return {c.values[0], c.values[1], c.values[2]};
  }

  // ((x - mean) * scale) is the stored form; a further Sub shifts the mean by what it is before scaling.
  void takeSub(const OnnxNode& node) {
    const auto v = perChannel(node);
    for (std::size_t c = 0; c < 3; ++c) chain_.mean[c] += v[c] / chain_.scale[c];
  }

  void takeMul(const OnnxNode& node) {
    const auto v = perChannel(node);
    for (std::size_t c = 0; c < 3; ++c) {
      if (v[c] == 0.0F) refuse(node, "it multiplies by zero");
      chain_.scale[c] *= v[c];
    }
  }

  void requireInts(const OnnxNode& node, const char* name, std::vector<std::int64_t> wanted,
                   const std::vector<std::int64_t>& fallback) const {
    const std::vector<std::int64_t> found = node.intsOr(name, fallback);
    if (found != wanted)
      refuse(node, fmt::format("its {} are {}, not {}", name, fmt::join(found, ","), fmt::join(wanted, ",")));
  }

  void requirePadding(const OnnxNode& node, const std::vector<std::int64_t>& pads) const {
    const auto automatic = node.strings.find("auto_pad");
    if (automatic != node.strings.end() && automatic->second != "NOTSET")
      refuse(node, "it pads by itself (auto_pad)");
    requireInts(node, "pads", pads, {0, 0, 0, 0});
  }

  void takeConv(const OnnxNode& node) {
    if (!activated_) refuse(node, "the convolution before it has no Relu");
    const OnnxConstant& w = constantInput(node, 1);
    const OnnxConstant& b = constantInput(node, 2);
    const int inputs = chain_.convolutions.empty() ? 3 : chain_.convolutions.back().outputs;
    if (w.shape.size() != 4 || w.shape[1] != inputs || w.shape[0] > kMaxChannels) {
      refuse(node, fmt::format("its weights do not take {} channels", inputs));
    }
    const std::int64_t k = w.shape[2];
    if (w.shape[3] != k || k % 2 == 0 || k > kMaxKernel)
      refuse(node, "its kernel is not square and odd, up to 11x11");
    if (b.values.size() != static_cast<std::size_t>(w.shape[0]))
      refuse(node, "its bias does not match its weights");
    requirePadding(node, {k / 2, k / 2, k / 2, k / 2});
    requireInts(node, "strides", {1, 1}, {1, 1});
    requireInts(node, "dilations", {1, 1}, {1, 1});
    requireInts(node, "group", {1}, {1});
    Convolution conv;
    conv.name = node.outputs[0];
    conv.inputs = inputs;
    conv.outputs = static_cast<int>(w.shape[0]);
    conv.kernel = static_cast<int>(k);
    conv.pooling = pooled_;
    conv.weights = w.values;
    conv.bias = b.values;
    if (conv.pools()) stride_ *= 2;
    chain_.convolutions.push_back(std::move(conv));
    field_ += (static_cast<int>(k) - 1) * stride_;
    pooled_ = Pooling::none;
    activated_ = false;
  }

  void takeRelu(const OnnxNode& node) {
    if (activated_) refuse(node, "it does not follow a convolution");
    activated_ = true;
    taps_[node.outputs[0]] = {countOf(chain_.convolutions) - 1, stride_, field_};
  }

  void takePool(const OnnxNode& node, Pooling kind) {
    if (!activated_ || chain_.convolutions.empty() || pooled_ != Pooling::none)
      refuse(node, "it does not follow a Relu");
    requireInts(node, "kernel_shape", {2, 2}, {});
    requireInts(node, "strides", {2, 2}, {1, 1});
    requireInts(node, "ceil_mode", {0}, {0});
    requirePadding(node, {0, 0, 0, 0});
    requireInts(node, "dilations", {1, 1}, {1, 1});
    pooled_ = kind;
    field_ += stride_;
  }

  std::vector<std::string> listed(const char* key) const {
    std::vector<std::string> names;
    const auto found = graph_.metadata.find(key);
    if (found == graph_.metadata.end()) return names;
    std::istringstream stream(found->second);
    for (std::string name; std::getline(stream, name, ',');) names.push_back(name);
    return names;
  }

  void tapBands() {
    for (const OnnxPicture& output : graph_.outputs) {
      const auto found = taps_.find(output.name);
      if (found == taps_.end()) fail(fmt::format("its output {} is not behind a Relu", output.name));
      const Tap& tap = found->second;
      const int channels = chain_.convolutions[tap.layer].outputs;
      chain_.bands.push_back({output.name, tap.layer, channels, tap.stride, tap.field});
    }
    if (chain_.bands.empty()) fail("has no outputs to tap as bands");
    chain_.styleBands = listed(kStyleBands);
    chain_.contentBands = listed(kContentBands);
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

  const OnnxGraph& graph_;
  std::string file_;
  std::map<std::string, Tap> taps_;
  std::string current_;
  bool activated_ = true;  // nothing before the first convolution waits for a Relu
  Pooling pooled_ = Pooling::none;
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
  return Reader(readOnnxGraph(path), path.string()).read();
}

}  // namespace jugendstil
