// SPDX-License-Identifier: Apache-2.0
#include "learn/painter_file.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "base/error.h"
#include "learn/other_painter.h"
#include "network/onnx_file.h"

namespace jugendstil {
namespace {

using Kind = NetLayer::Kind;

constexpr int kMaxChannels = 1024;
constexpr std::size_t kMaxLayers = 1000;
const std::string kGraph = "painter";
const std::string kIn = "picture";
const std::string kOut = "painting";
const std::string kHalf = "half";
const std::string kOne = "one";
const std::string kTwice = "twice";
constexpr const char* kElsewhere = "it stands at another place than in our painters";

OnnxConstant single(float value) { return {{}, {value}}; }

class Writer {
 public:
  explicit Writer(const Painter& painter) : net_(painter.net) {
    graph_.name = kGraph;
    graph_.metadata = painter.notes;
    graph_.inputs = {{kIn, {"1", "3", "height", "width"}}};
    graph_.outputs = {{kOut, {"1", "3", "height", "width"}}};
    graph_.constants = {{kHalf, single(kMiddle)}, {kOne, single(1)}};
  }

  OnnxGraph graph() {
    names_ = {node("Sub", {kIn, kHalf}, "centred").outputs[0]};
    for (int i = 0; i < static_cast<int>(net_.layers.size()); ++i) names_.push_back(layer(i));
    // To the range from 0 to 1, by what every runtime has.
    node("Add", {names_.back(), kHalf}, "unbound");
    node("Relu", {"unbound"}, "positive");
    node("Sub", {"unbound", kOne}, "beyond");
    node("Relu", {"beyond"}, "excess");
    node("Sub", {"positive", "excess"}, kOut);
    return std::move(graph_);
  }

 private:
  OnnxNode& node(std::string op, std::vector<std::string> inputs, const std::string& output) {
    OnnxNode made;
    made.op = std::move(op);
    made.name = output;
    made.inputs = std::move(inputs);
    made.outputs = {output};
    graph_.nodes.push_back(std::move(made));
    return graph_.nodes.back();
  }

  std::string constant(const std::string& name, std::vector<std::int64_t> shape, std::size_t first,
                       std::size_t count) {
    const auto from = net_.parameters.begin() + static_cast<std::ptrdiff_t>(first);
    graph_.constants[name] = {std::move(shape), {from, from + static_cast<std::ptrdiff_t>(count)}};
    return name;
  }

  const std::string& nameOf(int layer) const { return names_[layer + 1]; }

  // Gives the name of what the layer gives.
  std::string layer(int i) {
    const NetLayer& l = net_.layers[i];
    std::string own = fmt::format("layer{:02}", i + 1);
    const std::string raw = l.rectified ? own + ".raw" : own;
    const std::size_t first = net_.firstParameter(i);
    const std::size_t count = net_.parameterCount(i);
    const std::size_t outputs = l.outputs;
    if (l.kind == Kind::convolution) {
      const std::string weights = constant(
          own + ".weights", {l.outputs, net_.inputsOf(i), l.kernel, l.kernel}, first, count - outputs);
      const std::string bias = constant(own + ".bias", {l.outputs}, first + count - outputs, outputs);
      OnnxNode& made = node("Conv", {nameOf(l.from), weights, bias}, raw);
      const int pad = l.pad();
      made.ints = {{"kernel_shape", {l.kernel, l.kernel}},
                   {"pads", {pad, pad, pad, pad}},
                   {"strides", {l.stride, l.stride}}};
    } else if (l.kind == Kind::normalisation) {
      const std::string scale = constant(own + ".scale", {l.outputs}, first, outputs);
      const std::string shift = constant(own + ".shift", {l.outputs}, first + outputs, outputs);
      node("InstanceNormalization", {nameOf(l.from), scale, shift}, raw).floats = {{"epsilon", l.floor}};
    } else if (l.kind == Kind::enlarging) {
      graph_.constants[kTwice] = {{4}, {1, 1, 2, 2}};
      node("Resize", {nameOf(l.from), "", kTwice}, raw).strings = {
          {"mode", "linear"}, {"coordinate_transformation_mode", "half_pixel"}};
    } else {
      node("Add", {nameOf(l.from), nameOf(l.also)}, raw);
    }
    if (l.rectified) node("Relu", {raw}, own);
    return own;
  }

  const Net& net_;
  OnnxGraph graph_;
  std::vector<std::string> names_;  // of the picture and of what each layer gives
};

class Reader {
 public:
  Reader(const OnnxGraph& graph, std::string file) : graph_(graph), file_(std::move(file)) {}

  Painter painter() {
    if (graph_.inputs.size() != 1 || graph_.outputs.size() != 1)
      throw Error(fmt::format("{}: a painter takes one picture and gives one", file_));
    if (graph_.nodes.size() > kMaxLayers) throw Error(fmt::format("{}: has too many layers", file_));
    names_[graph_.inputs[0].name] = {Value::Kind::picture, kPicture};
    for (const OnnxNode& node : graph_.nodes) take(node);
    const auto out = names_.find(graph_.outputs[0].name);
    if (out == names_.end() || out->second.kind != Value::Kind::painting)
      throw Error(fmt::format("{}: its output is not what it brings to the range from 0 to 1", file_));
    try {
      requireSound(net_);
    } catch (const Error& e) {
      throw Error(fmt::format("{}: {}", file_, e.what()));
    }
    return {std::move(net_), graph_.metadata};
  }

 private:
  // What a name of the file stands for.
  struct Value {
    enum class Kind {
      picture,  // as it goes in
      layer,    // about 0
      unbound,  // about a half; the next three bring it to the range from 0 to 1
      positive,
      beyond,
      excess,
      painting,  // as it goes out
    };
    Kind kind = Kind::layer;
    int layer = kPicture;
  };

  [[noreturn]] void refuse(const OnnxNode& node, const std::string& why) const {
    throw Error(
        fmt::format("{}: {} does not fit: {}; our own painters are of Conv, InstanceNormalization, "
                    "Relu, Resize and Add",
                    file_, node.label(), why));
  }

  void take(const OnnxNode& node) {
    if (node.inputs.empty() || node.outputs.size() != 1) refuse(node, "it needs an input and one output");
    Value made;
    if (node.op == "Sub") {
      made = subtracted(node);
    } else if (node.op == "Relu") {
      made = rectified(node);
    } else if (node.op == "Add" && graph_.constants.count(second(node)) != 0) {
      made = lifted(node);
    } else {
      made = layerOf(node);
    }
    if (!names_.emplace(node.outputs[0], made).second) refuse(node, "its output has the name of another");
  }

  std::string second(const OnnxNode& node) const { return node.inputs.size() > 1 ? node.inputs[1] : ""; }

  const Value& valueOf(const OnnxNode& node, std::size_t input) const {
    const auto found = input < node.inputs.size() ? names_.find(node.inputs[input]) : names_.end();
    if (found == names_.end()) refuse(node, "it takes what does not stand before it");
    return found->second;
  }

  const Value& valueOf(const OnnxNode& node, std::size_t input, Value::Kind kind) const {
    const Value& value = valueOf(node, input);
    if (value.kind != kind) refuse(node, kElsewhere);
    return value;
  }

  Value::Kind kindOf(const OnnxNode& node) const { return valueOf(node, 0).kind; }

  const OnnxConstant& constantOf(const OnnxNode& node, std::size_t input) const {
    const auto found =
        input < node.inputs.size() ? graph_.constants.find(node.inputs[input]) : graph_.constants.end();
    if (found == graph_.constants.end()) refuse(node, "its weights are missing");
    return found->second;
  }

  void requireSingle(const OnnxNode& node, std::size_t input, float value) const {
    if (constantOf(node, input).values != std::vector<float>{value})
      refuse(node, fmt::format("its constant is not {}", value));
  }

  void requireInts(const OnnxNode& node, const char* name, const std::vector<std::int64_t>& wanted,
                   const std::vector<std::int64_t>& fallback) const {
    const std::vector<std::int64_t> own = node.intsOr(name, fallback);
    if (own != wanted)
      refuse(node, fmt::format("its {} are {}, not {}", name, fmt::join(own, ","), fmt::join(wanted, ",")));
  }

  void requireString(const OnnxNode& node, const char* name, const std::string& wanted) const {
    const auto found = node.strings.find(name);
    if (found == node.strings.end() || found->second != wanted)
      refuse(node, fmt::format("its {} is not {}", name, wanted));
  }

  Value subtracted(const OnnxNode& node) const {
    switch (kindOf(node)) {
      case Value::Kind::picture:
        requireSingle(node, 1, kMiddle);
        return {Value::Kind::layer, kPicture};
      case Value::Kind::unbound:
        requireSingle(node, 1, 1);
        return {Value::Kind::beyond};
      case Value::Kind::positive:
        valueOf(node, 1, Value::Kind::excess);
        return {Value::Kind::painting};
      default:
        refuse(node, kElsewhere);
    }
  }

  Value lifted(const OnnxNode& node) const {
    const Value last = valueOf(node, 0, Value::Kind::layer);
    requireSingle(node, 1, kMiddle);
    if (last.layer + 1 != static_cast<int>(net_.layers.size()))
      refuse(node, "it does not follow the last layer");
    return {Value::Kind::unbound};
  }

  // Belongs to the layer that it follows at once, so that nothing takes what is not rectified.
  Value rectified(const OnnxNode& node) {
    if (kindOf(node) == Value::Kind::unbound) return {Value::Kind::positive};
    if (kindOf(node) == Value::Kind::beyond) return {Value::Kind::excess};
    const Value before = valueOf(node, 0, Value::Kind::layer);
    if (before.layer == kPicture || before.layer + 1 != static_cast<int>(net_.layers.size()) ||
        net_.layers.back().kind == Kind::enlarging || net_.layers.back().kind == Kind::sum)
      refuse(node, "it does not follow a Conv or an InstanceNormalization");
    net_.layers.back().rectified = true;
    return before;
  }

  int channelsOf(int layer) const { return layer == kPicture ? net_.channels : net_.layers[layer].outputs; }

  Value layerOf(const OnnxNode& node) {
    NetLayer layer;
    layer.from = valueOf(node, 0, Value::Kind::layer).layer;
    layer.outputs = channelsOf(layer.from);
    if (node.op == "Conv") {
      takeConvolution(node, layer);
    } else if (node.op == "InstanceNormalization") {
      layer.kind = Kind::normalisation;
      takeParameters(node, 1, layer.outputs);
      takeParameters(node, 2, layer.outputs);
      const auto floor = node.floats.find("epsilon");
      if (floor != node.floats.end() && floor->second != kNormalisingFloor)
        refuse(node, fmt::format("its epsilon is not {}", kNormalisingFloor));
    } else if (node.op == "Resize") {
      layer.kind = Kind::enlarging;
      requireString(node, "mode", "linear");
      requireString(node, "coordinate_transformation_mode", "half_pixel");
      if (constantOf(node, 2).values != std::vector<float>{1, 1, 2, 2})
        refuse(node, "it does not enlarge to twice the size");
    } else if (node.op == "Add") {
      layer.kind = Kind::sum;
      layer.also = valueOf(node, 1, Value::Kind::layer).layer;
    } else {
      refuse(node, "it is of an unknown kind");
    }
    net_.layers.push_back(layer);
    return {Value::Kind::layer, static_cast<int>(net_.layers.size()) - 1};
  }

  void takeConvolution(const OnnxNode& node, NetLayer& layer) {
    const std::vector<std::int64_t>& shape = constantOf(node, 1).shape;
    if (shape.size() != 4 || shape[1] != layer.outputs || shape[0] > kMaxChannels)
      refuse(node, fmt::format("its weights do not take {} channels", layer.outputs));
    if (shape[2] != shape[3] || shape[2] % 2 == 0 || shape[2] > 15)
      refuse(node, "its kernel is not square and odd, up to 15x15");
    layer.outputs = static_cast<int>(shape[0]);
    layer.kernel = static_cast<int>(shape[2]);
    const std::int64_t pad = layer.pad();
    requireInts(node, "pads", {pad, pad, pad, pad}, {0, 0, 0, 0});
    requireInts(node, "dilations", {1, 1}, {1, 1});
    requireInts(node, "group", {1}, {1});
    if (node.intsOr("strides", {1, 1}) == std::vector<std::int64_t>{2, 2})
      layer.stride = 2;
    else
      requireInts(node, "strides", {1, 1}, {1, 1});
    takeParameters(node, 1, constantOf(node, 1).values.size());
    takeParameters(node, 2, layer.outputs);
  }

  void takeParameters(const OnnxNode& node, std::size_t input, std::size_t count) {
    const std::vector<float>& values = constantOf(node, input).values;
    if (values.size() != count)
      refuse(node, fmt::format("it needs {} values for {}", count, node.inputs[input]));
    net_.parameters.insert(net_.parameters.end(), values.begin(), values.end());
  }

  const OnnxGraph& graph_;
  std::string file_;
  Net net_;
  std::map<std::string, Value> names_;
};

}  // namespace

OnnxGraph painterGraph(const Painter& painter) { return Writer(painter).graph(); }

Painter painterOf(const OnnxGraph& graph, const std::string& file) { return Reader(graph, file).painter(); }

void writePainter(const std::filesystem::path& path, const Painter& painter) {
  writeOnnxGraph(path, painterGraph(painter));
}

Painter readPainter(const std::filesystem::path& path) {
  const OnnxGraph graph = readOnnxGraph(path);
  if (graph.name == kGraph) return painterOf(graph, path.string());
  if (graph.name == kGeneralPainterGraph)
    throw Error(
        fmt::format("{}: this is the painter for any reference, and no painter by itself; give a "
                    "reference and say quick",
                    path.string()));
  return {otherPaintersNet(graph, path.string()), graph.metadata};
}

}  // namespace jugendstil
