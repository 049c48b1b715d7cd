// SPDX-License-Identifier: Apache-2.0
#include "learn/other_painter.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <string_view>

#include "base/error.h"
#include "learn/net_pass.h"

namespace jugendstil {
namespace {

using Kind = NetLayer::Kind;
using Ints = std::vector<std::int64_t>;

constexpr int kMaxChannels = 1024;
constexpr int kMaxKernel = 15;
constexpr std::size_t kMaxNodes = 1000;
// A picture that values of the net are looked at for.
constexpr int kProbeSide = 128;
constexpr float kBeyondOne = 16;
constexpr float kBelowNought = -0.25F;

// What a name of the file stands for: a layer, with so many values more on each side.
struct Value {
  int layer = 0;
  int pad = 0;
  bool mirrored = false;
};

class Taking {
 public:
  Taking(const OnnxGraph& graph, std::string file) : graph_(graph), file_(std::move(file)) {}

  Net net() {
    if (graph_.inputs.size() != 1 || graph_.outputs.size() != 1)
      throw Error(fmt::format("{}: a painter takes one picture and gives one", file_));
    if (graph_.nodes.size() > kMaxNodes) throw Error(fmt::format("{}: has too many layers", file_));
    for (const OnnxNode& node : graph_.nodes) {
      for (const std::string& input : node.inputs) ++uses_[input];
    }
    ++uses_[graph_.outputs[0].name];
    addScaling(kPicture, std::vector<float>(3, 1), std::vector<float>(3, kMiddle));
    names_[graph_.inputs[0].name] = {0};
    for (const OnnxNode& node : graph_.nodes) take(node);
    finish();
    return std::move(net_);
  }

 private:
  using Taker = Value (Taking::*)(const OnnxNode&);

  static const std::map<std::string_view, Taker>& takers() {
    static const std::map<std::string_view, Taker> all{
        {"Add", &Taking::combination},
        {"BatchNormalization", &Taking::batchNormalisation},
        {"Clip", &Taking::clip},
        {"Conv", &Taking::convolution},
        {"ConvTranspose", &Taking::transposedConvolution},
        {"Div", &Taking::combination},
        {"Dropout", &Taking::nothing},
        {"Identity", &Taking::nothing},
        {"InstanceNormalization", &Taking::normalisation},
        {"Mul", &Taking::combination},
        {"Pad", &Taking::padding},
        {"Relu", &Taking::rectification},
        {"Resize", &Taking::enlargement},
        {"Sub", &Taking::combination},
        {"Tanh", &Taking::bound},
        {"Upsample", &Taking::enlargement},
    };
    return all;
  }

  [[noreturn]] void refuse(const OnnxNode& node, const std::string& why) const {
    throw Error(fmt::format("{}: {} does not fit: {}", file_, node.label(), why));
  }

  void take(const OnnxNode& node) {
    const auto taker = takers().find(node.op);
    if (taker == takers().end()) {
      std::vector<std::string_view> known;
      for (const auto& [op, unused] : takers()) known.push_back(op);
      refuse(node, fmt::format("painters here are of {}", fmt::join(known, ", ")));
    }
    if (node.inputs.empty() || node.outputs.empty()) refuse(node, "it needs an input and an output");
    const Value made = (this->*taker->second)(node);
    if (!names_.emplace(node.outputs[0], made).second) refuse(node, "its output has the name of another");
  }

  // Values that may stand there with more on each side, and those that may not.
  const Value& paddedValueOf(const OnnxNode& node, std::size_t input) const {
    const auto found = input < node.inputs.size() ? names_.find(node.inputs[input]) : names_.end();
    if (found == names_.end()) refuse(node, "it takes what does not stand before it");
    return found->second;
  }
  int layerOf(const OnnxNode& node, std::size_t input) const {
    const Value& value = paddedValueOf(node, input);
    if (value.pad != 0) refuse(node, "what it takes is padded, and it is no Conv");
    return value.layer;
  }
  bool isConstant(const OnnxNode& node, std::size_t input) const {
    return input < node.inputs.size() && graph_.constants.count(node.inputs[input]) != 0;
  }
  const OnnxConstant& constantOf(const OnnxNode& node, std::size_t input) const {
    if (!isConstant(node, input)) refuse(node, "what it needs is not in the file as a constant");
    return graph_.constants.at(node.inputs[input]);
  }
  const std::vector<float>& valuesOf(const OnnxNode& node, std::size_t input, std::size_t count) const {
    const std::vector<float>& values = constantOf(node, input).values;
    if (values.size() != count)
      refuse(node, fmt::format("it needs {} values for {}", count, node.inputs[input]));
    return values;
  }
  int channelsOf(int layer) const { return net_.layers[layer].outputs; }

  Value add(const NetLayer& layer) {
    net_.layers.push_back(layer);
    return {static_cast<int>(net_.layers.size()) - 1};
  }
  void addParameters(const std::vector<float>& values) {
    net_.parameters.insert(net_.parameters.end(), values.begin(), values.end());
  }
  Value addScaling(int from, const std::vector<float>& scale, const std::vector<float>& shift,
                   bool rectified = false) {
    addParameters(scale);
    addParameters(shift);
    return add({.kind = Kind::scaling,
                .from = from,
                .outputs = static_cast<int>(scale.size()),
                .rectified = rectified});
  }

  // Its output counts as taken by as many as its input.
  Value nothing(const OnnxNode& node) {
    uses_[node.outputs[0]] += uses_.at(node.inputs[0]) - 1;
    return paddedValueOf(node, 0);
  }

  // The painting is clipped in any case.
  Value clip(const OnnxNode& node) {
    if (node.outputs[0] != graph_.outputs[0].name) refuse(node, "it is not the last");
    return {layerOf(node, 0)};
  }

  Value bound(const OnnxNode& node) {
    const int from = layerOf(node, 0);
    return add({.kind = Kind::bounded, .from = from, .outputs = channelsOf(from)});
  }

  // Belongs to the layer before it where nothing else takes what that gives.
  Value rectification(const OnnxNode& node) {
    const int from = layerOf(node, 0);
    NetLayer& before = net_.layers[from];
    const bool may = before.kind != Kind::enlarging && before.kind != Kind::bounded && from > 0;
    if (may && uses_.at(node.inputs[0]) == 1 && from + 1 == static_cast<int>(net_.layers.size())) {
      before.rectified = true;
      return {from};
    }
    const std::size_t channels = before.outputs;
    return addScaling(from, std::vector<float>(channels, 1), std::vector<float>(channels, 0), true);
  }

  Value normalisation(const OnnxNode& node) {
    const int from = layerOf(node, 0);
    const int channels = channelsOf(from);
    addParameters(valuesOf(node, 1, channels));
    addParameters(valuesOf(node, 2, channels));
    return add({.kind = Kind::normalisation, .from = from, .outputs = channels, .floor = floorOf(node)});
  }

  float floorOf(const OnnxNode& node) const {
    const auto found = node.floats.find("epsilon");
    const float floor = found == node.floats.end() ? kNormalisingFloor : found->second;
    if (!(floor >= 0 && floor < 1)) refuse(node, "its epsilon is not from 0 to 1");
    return floor;
  }

  Value batchNormalisation(const OnnxNode& node) {
    const int from = layerOf(node, 0);
    const std::size_t channels = channelsOf(from);
    std::vector<float> scale = valuesOf(node, 1, channels);
    std::vector<float> shift = valuesOf(node, 2, channels);
    const std::vector<float>& mean = valuesOf(node, 3, channels);
    const std::vector<float>& variance = valuesOf(node, 4, channels);
    for (std::size_t c = 0; c < channels; ++c) {
      const float spread = std::sqrt(std::max(variance[c], 0.0F) + floorOf(node));
      if (!(spread > 0)) refuse(node, "it divides by nothing");
      scale[c] /= spread;
      shift[c] -= mean[c] * scale[c];
    }
    return addScaling(from, scale, shift);
  }

  // Of two layers, or of a layer and a constant.
  Value combination(const OnnxNode& node) {
    if (node.inputs.size() != 2) refuse(node, "it takes no two values");
    const bool constantFirst = isConstant(node, 0);
    if (!constantFirst && !isConstant(node, 1)) {
      if (node.op != "Add") refuse(node, "neither of its two values is a constant");
      const int from = layerOf(node, 0);
      const int also = layerOf(node, 1);
      return add({.kind = Kind::sum, .from = from, .also = also, .outputs = channelsOf(from)});
    }
    const int from = layerOf(node, constantFirst ? 1 : 0);
    const std::size_t channels = channelsOf(from);
    std::vector<float> values = constantOf(node, constantFirst ? 0 : 1).values;
    if (values.size() == 1) values.resize(channels, values[0]);
    if (values.size() != channels) refuse(node, "its constant is not one number, or one for each channel");
    std::vector<float> scale(channels, 1);
    std::vector<float> shift(channels, 0);
    for (std::size_t c = 0; c < channels; ++c) {
      if (node.op == "Add") shift[c] = values[c];
      if (node.op == "Sub") {
        scale[c] = constantFirst ? -1.0F : 1.0F;
        shift[c] = constantFirst ? values[c] : -values[c];
      }
      if (node.op == "Mul") scale[c] = values[c];
      if (node.op == "Div") {
        if (constantFirst || values[c] == 0) refuse(node, "it does not divide by a number other than 0");
        scale[c] = 1 / values[c];
      }
    }
    return addScaling(from, scale, shift);
  }

  Value padding(const OnnxNode& node) {
    Value value{layerOf(node, 0)};
    Ints pads = node.intsOr("pads", {});
    if (pads.empty()) {
      for (const float v : constantOf(node, 1).values) pads.push_back(static_cast<std::int64_t>(v));
    }
    const std::int64_t pad = pads.size() == 8 ? pads[2] : -1;
    if (pads != Ints{0, 0, pad, pad, 0, 0, pad, pad} || pad < 0 || pad > kMaxKernel / 2)
      refuse(node, fmt::format("its pads are not equal on all four sides, up to {}", kMaxKernel / 2));
    const auto mode = node.strings.find("mode");
    value.mirrored = mode != node.strings.end() && mode->second == "reflect";
    const bool zeros = mode == node.strings.end() || mode->second == "constant";
    const auto filling = node.floats.find("value");
    const bool others = (filling != node.floats.end() && filling->second != 0) ||
                        (isConstant(node, 2) && constantOf(node, 2).values != std::vector<float>{0});
    if (!value.mirrored && (!zeros || others)) refuse(node, "it pads neither by reflection nor with zeros");
    value.pad = static_cast<int>(pad);
    return value;
  }

  // Its one number for both axes.
  std::int64_t evenly(const OnnxNode& node, const char* name, std::size_t count,
                      std::int64_t fallback) const {
    const Ints own = node.intsOr(name, Ints(count, fallback));
    if (own.empty() || own != Ints(count, own.front()))
      refuse(node, fmt::format("its {} are {}, not {} equal numbers", name, fmt::join(own, ","), count));
    return own.front();
  }

  int kernelOf(const OnnxNode& node, int inputs, std::size_t inputAxis) const {
    const Ints& shape = constantOf(node, 1).shape;
    if (shape.size() != 4 || shape[inputAxis] != inputs || shape[1 - inputAxis] > kMaxChannels)
      refuse(node, fmt::format("its weights do not take {} channels", inputs));
    if (shape[2] != shape[3] || shape[2] > kMaxKernel)
      refuse(node, fmt::format("its kernel is not square, up to {0}x{0}", kMaxKernel));
    if (evenly(node, "dilations", 2, 1) != 1) refuse(node, "it is dilated");
    if (node.intsOr("group", {1}) != Ints{1}) refuse(node, "its channels are in groups");
    return static_cast<int>(shape[2]);
  }

  std::vector<float> biasOf(const OnnxNode& node, int outputs) const {
    const bool has = node.inputs.size() > 2 && !node.inputs[2].empty();
    return has ? valuesOf(node, 2, outputs) : std::vector<float>(outputs, 0.0F);
  }

  Value convolution(const OnnxNode& node) {
    const Value value = paddedValueOf(node, 0);
    NetLayer layer{.from = value.layer, .mirrored = value.mirrored};
    layer.kernel = kernelOf(node, channelsOf(value.layer), 1);
    layer.outputs = static_cast<int>(constantOf(node, 1).shape[0]);
    layer.stride = static_cast<int>(evenly(node, "strides", 2, 1));
    if (layer.stride < 1 || layer.stride > 2) refuse(node, "its stride is not 1 or 2");
    const std::int64_t own = ownPadOf(node, layer);
    if ((own != 0 && value.pad != 0) || own + value.pad != layer.pad())
      refuse(node, fmt::format("it changes the size: for its kernel it needs {} more on each side, not {}",
                               layer.pad(), own + value.pad));
    layer.mirrored = value.pad > 0 && value.mirrored;
    addParameters(constantOf(node, 1).values);
    addParameters(biasOf(node, layer.outputs));
    return add(layer);
  }

  std::int64_t ownPadOf(const OnnxNode& node, const NetLayer& layer) const {
    const auto rule = node.strings.find("auto_pad");
    if (rule == node.strings.end() || rule->second == "NOTSET") return evenly(node, "pads", 4, 0);
    if (rule->second == "VALID") return 0;
    if (layer.stride != 1) refuse(node, "its auto_pad is uneven at a stride of 2");
    return layer.pad();
  }

  // Zeros between the values, then a convolution with the kernel turned about; one of even width has a zero
  // more, so that it has a middle.
  Value transposedConvolution(const OnnxNode& node) {
    const int from = layerOf(node, 0);
    const int inputs = channelsOf(from);
    const int kernel = kernelOf(node, inputs, 0);
    const int outputs = static_cast<int>(constantOf(node, 1).shape[1]);
    const std::int64_t pad = evenly(node, "pads", 4, 0);
    const std::int64_t more = evenly(node, "output_padding", 2, 0);
    if (evenly(node, "strides", 2, 1) != 2 || pad != (kernel - 1) / 2 || 2 * pad - more != kernel - 2)
      refuse(node, "it does not enlarge to twice the size");
    const NetLayer spread{
        .kind = Kind::enlarging, .from = from, .outputs = inputs, .between = NetLayer::Between::zeros};
    NetLayer layer{.from = add(spread).layer, .outputs = outputs, .kernel = kernel + 1 - kernel % 2};
    addParameters(turnedAbout(constantOf(node, 1), layer.kernel, static_cast<int>(pad) + layer.pad()));
    addParameters(biasOf(node, outputs));
    return add(layer);
  }

  // Inputs x outputs to outputs x inputs; what stood at `t` stands at `sum` - t.
  static std::vector<float> turnedAbout(const OnnxConstant& weights, int kernel, int sum) {
    const std::size_t inputs = weights.shape[0];
    const std::size_t outputs = weights.shape[1];
    const int old = static_cast<int>(weights.shape[2]);
    std::vector<float> turned(outputs * inputs * kernel * kernel);
    for (std::size_t i = 0; i < inputs; ++i) {
      for (std::size_t o = 0; o < outputs; ++o) {
        const float* from = &weights.values[(i * outputs + o) * old * old];
        float* to = &turned[(o * inputs + i) * kernel * kernel];
        for (int y = 0; y < old; ++y) {
          for (int x = 0; x < old; ++x) to[cellAt(sum - x, sum - y, kernel)] = from[cellAt(x, y, old)];
        }
      }
    }
    return turned;
  }

  Value enlargement(const OnnxNode& node) {
    const int from = layerOf(node, 0);
    if (node.inputs.size() < 2 || node.inputs.size() > 3) refuse(node, "its scales are not in the file");
    const std::vector<float>& scales = constantOf(node, node.inputs.size() - 1).values;
    const float scale = scales.size() == 4 ? scales[2] : 0;
    if (scales != std::vector<float>{1, 1, scale, scale} || (scale != 2 && scale != 4))
      refuse(node, "it does not enlarge to two or four times the size");
    NetLayer layer{.kind = Kind::enlarging,
                   .from = from,
                   .outputs = channelsOf(from),
                   .between = betweenOf(node, scale)};
    if (scale == 4 && layer.between == NetLayer::Between::linear)
      refuse(node, "it enlarges to four times the size at once, between values");
    if (scale == 4) layer.from = add(layer).layer;
    return add(layer);
  }

  NetLayer::Between betweenOf(const OnnxNode& node, float scale) const {
    // Its first version was as the operator before it.
    const bool resize = node.op == "Resize" && node.inputs.size() > 2;
    const auto textOf = [&](const char* name, const char* fallback) {
      const auto found = node.strings.find(name);
      return found == node.strings.end() ? std::string(fallback) : found->second;
    };
    const std::string mode = textOf("mode", "nearest");
    const std::string places = textOf("coordinate_transformation_mode", resize ? "half_pixel" : "asymmetric");
    const std::string round = textOf("nearest_mode", resize ? "round_prefer_floor" : "floor");
    const bool middles = places == "half_pixel" || places == "pytorch_half_pixel";
    const bool corners = places == "asymmetric";
    if (mode == "linear" && middles) return NetLayer::Between::linear;
    // These repeat each value; what is counted and rounded otherwise moves the picture.
    const bool repeats = middles
                             ? round.starts_with("round_prefer")
                             : corners && (round == "floor" || (round == "round_prefer_floor" && scale == 2));
    if (mode == "nearest" && repeats) return NetLayer::Between::nearest;
    refuse(node, "it is neither nearest nor linear between the middles of pixels");
  }

  void finish() {
    const auto out = names_.find(graph_.outputs[0].name);
    if (out == names_.end() || out->second.pad != 0)
      throw Error(fmt::format("{}: its output is what none of its layers gives", file_));
    const int last = out->second.layer;
    const std::size_t end = net_.parameters.size();
    addScaling(last, std::vector<float>(channelsOf(last), 1), std::vector<float>(channelsOf(last), -kMiddle));
    try {
      settleRange(last, end);
    } catch (const Error& e) {
      throw Error(fmt::format("{}: {}", file_, e.what()));
    }
  }

  void settleRange(int last, std::size_t end) {
    NetPass pass(net_, kProbeSide, kProbeSide, NetPass::Use::painting);
    const Planes& given = pass.forward(probe());
    float least = 0;
    float most = 0;
    for (const auto& plane : given.plane) {
      for (const float v : plane) {
        if (!std::isfinite(v)) throw Error("what it gives are no numbers");
        least = std::min(least, v + kMiddle);
        most = std::max(most, v + kMiddle);
      }
    }
    const auto setRange = [&](float inScale, float inShift, float outScale, float outShift) {
      const auto from = net_.parameters.begin();
      const auto to = from + static_cast<std::ptrdiff_t>(end);
      std::fill_n(from, 3, inScale);
      std::fill_n(from + 3, 3, inShift);
      std::fill_n(to, 3, outScale);
      std::fill_n(to + 3, 3, outShift);
    };
    constexpr float kWhite = 255;
    if (std::max(most, -least) > kBeyondOne)
      setRange(kWhite, kWhite * kMiddle, 1 / kWhite, -kMiddle);
    else if (net_.layers[last].kind == Kind::bounded || least < kBelowNought)
      setRange(2, 0, kMiddle, 0);
  }

  // Slow and quick waves in three colours.
  static Planes probe() {
    Planes planes(kProbeSide, kProbeSide);
    for (std::size_t c = 0; c < 3; ++c) {
      for (int y = 0; y < kProbeSide; ++y) {
        for (int x = 0; x < kProbeSide; ++x) {
          const float slow = std::sin(0.05F * static_cast<float>(x + static_cast<int>(c) * 20));
          const float quick = std::sin(0.9F * static_cast<float>(y) + 0.4F * static_cast<float>(x));
          planes.plane[c][planes.index(x, y)] = 0.3F * slow + 0.2F * quick;
        }
      }
    }
    return planes;
  }

  const OnnxGraph& graph_;
  std::string file_;
  Net net_;
  std::map<std::string, Value> names_;
  std::map<std::string, int> uses_;
};

}  // namespace

Net otherPaintersNet(const OnnxGraph& graph, const std::string& file) { return Taking(graph, file).net(); }

}  // namespace jugendstil
