// SPDX-License-Identifier: Apache-2.0
#include "network/layer_reader.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>

#include "base/error.h"
#include "base/number.h"

namespace jugendstil {
namespace {

using Ints = std::vector<std::int64_t>;

constexpr int kMaxChannels = 4096;
constexpr std::int64_t kMaxKernel = 11;
constexpr std::int64_t kMostPadding = 1000;
// Small files can ask for much: groups and concatenations are written out, layers halve sides.
constexpr int kMostLayers = 1000;
constexpr std::size_t kMostParts = 256;
constexpr std::size_t kMostHalvings = 10;
constexpr std::size_t kMostWeights = std::size_t{1} << 28;

using Padding = std::array<std::int64_t, 2>;  // top and left
constexpr Padding kNothing{};

// What a name in the graph stands for: the picture, a layer's output, or several side by side.
struct Value {
  int layer = -1;       // of the chain; -1 is the picture
  bool open = false;    // behind a convolution, before its ReLU: what follows may still become part of it
  bool shared = false;  // several take it as it is
  int changes = 0;      // of the layer, when it had this value
  Pooling pooling = Pooling::none;  // of it, for whoever takes it
  PoolWindow window{};
  Padding padded{};            // for whoever takes it; of a concatenation also that of each part
  std::vector<Value> parts{};  // a concatenation's

  bool plain() const { return pooling == Pooling::none && padded == kNothing && parts.empty(); }
};

// What else is known of a layer while it is read.
struct LayerState {
  int changes = 0;
  bool done = false;            // nothing becomes part of it any more
  std::vector<int> together{};  // layers whose sum it is: convolutions of a concatenation's parts
  std::string losses{};         // how sides were halved on the way, to tell whether two are of one size
};

// An operator that cannot be taken.
struct Refusal {
  std::string why;
};

class LayerReader {
 public:
  LayerReader(const OnnxGraph& graph, std::string file) : graph_(graph), file_(std::move(file)) {
    for (const OnnxNode& node : graph.nodes) {
      if (node.op == "Shape") continue;
      for (const std::string& input : node.inputs) ++takers_[input];
    }
  }

  ReadLayers read() {
    Chain& chain = read_.chain;
    chain.name = graph_.name;
    chain.checksum = graph_.checksum;
    if (graph_.inputs.size() != 1)
      throw Error(fmt::format("{}: has {} inputs; one RGB picture is expected", file_, graph_.inputs.size()));
    values_[graph_.inputs.front().name] = {};
    for (const OnnxNode& node : graph_.nodes) {
      try {
        take(node);
      } catch (const Refusal& refusal) {
        if (read_.refused.empty())
          read_.refused = fmt::format("{}: cannot take {}: {}", file_, node.label(), refusal.why);
      }
    }
    return std::move(read_);
  }

 private:
  [[noreturn]] static void refuse(std::string why) { throw Refusal{std::move(why)}; }

  std::vector<Convolution>& layers() { return read_.chain.convolutions; }

  const Value* valueOf(const OnnxNode& node, std::size_t index) const {
    if (index >= node.inputs.size()) return nullptr;
    const auto found = values_.find(node.inputs[index]);
    return found == values_.end() ? nullptr : &found->second;
  }

  const OnnxConstant* constantFor(const OnnxNode& node, std::size_t index) const {
    if (index >= node.inputs.size() || node.inputs[index].empty()) return nullptr;
    const auto found = graph_.constants.find(node.inputs[index]);
    if (found == graph_.constants.end())
      refuse(fmt::format("its input {} is not a constant", node.inputs[index]));
    return &found->second;
  }

  void take(const OnnxNode& node) {
    // What follows an operator that was not taken is not either, nor what computes sizes.
    const bool known = std::any_of(node.inputs.begin(), node.inputs.end(),
                                   [&](const std::string& input) { return values_.count(input) != 0; });
    if (!known || node.op == "Shape" || node.outputs.empty()) return;
    const Value* first = valueOf(node, 0);
    const bool commutes = node.op == "Add" || node.op == "Mul" || node.op == "Concat";
    if (first == nullptr && !commutes) refuse("what comes from the layer before it is not its first input");
    const std::string& name = node.outputs.front();
    Value made = taken(node, first);
    made.shared = made.shared || takers_[name] > 1;
    for (Value& part : made.parts) part.shared = part.shared || made.shared;
    values_[name] = std::move(made);
  }

  Value taken(const OnnxNode& node, const Value* first) {
    const std::string& op = node.op;
    if (op == "Identity" || op == "Dropout") return *first;
    if (op == "Add" && valueOf(node, 0) != nullptr && valueOf(node, 1) != nullptr)
      return sum(*first, *valueOf(node, 1));
    if (op == "Sub" || op == "Add" || op == "Mul" || op == "Div") return affine(node);
    if (op == "Pad") return padded(node, *first);
    if (op == "Conv") return convolved(node, *first);
    if (op == "BatchNormalization") return normalised(node, *first);
    if (op == "Relu") return rectified(node, *first, 0);
    if (op == "LeakyRelu") return rectified(node, *first, slopeOf(node));
    if (op == "MaxPool") return pooled(node, *first, Pooling::maximum);
    if (op == "AveragePool") return pooled(node, *first, Pooling::average);
    if (op == "Concat") return concatenation(node);
    refuse(
        "it is none of Conv, BatchNormalization, Relu, LeakyRelu, MaxPool, AveragePool, Pad, Add, Concat, "
        "Dropout and Identity");
  }

  // Before the first layer it is of colours; behind a convolution it becomes part of that.
  Value affine(const OnnxNode& node) {
    const bool isFirst = valueOf(node, 0) != nullptr;
    const Value& value = *valueOf(node, isFirst ? 0 : 1);
    const OnnxConstant* given = constantFor(node, isFirst ? 1 : 0);
    if (given == nullptr) refuse("an input is missing");
    const OnnxConstant& c = *given;
    if (value.layer < 0 && value.plain()) return ofColours(node, value, c);
    const std::size_t channels = channelsOf(value);
    const bool each = c.values.size() == channels && c.shape.size() >= 3 &&
                      c.shape[c.shape.size() - 3] == static_cast<std::int64_t>(channels);
    if (!each && c.values.size() != 1) refuse("its constant is no value for each channel");
    std::vector<float> factors(channels, 1.0F);
    std::vector<float> offsets(channels, 0.0F);
    for (std::size_t i = 0; i < channels; ++i) {
      const float v = c.values[each ? i : 0];
      if (node.op == "Add") offsets[i] = v;
      if (node.op == "Sub") offsets[i] = -v;
      if (node.op == "Mul") factors[i] = v;
      if (node.op == "Div") factors[i] = 1 / v;
    }
    return changed(value, factors, offsets);
  }

  // (x - mean) * scale is how the chain has it.
  Value ofColours(const OnnxNode& node, const Value& value, const OnnxConstant& c) {
    if (!layers().empty()) refuse("it stands behind a convolution");
    if (c.values.size() != 1 && c.values.size() != 3) refuse("its constant needs one value or three");
    Chain& chain = read_.chain;
    for (std::size_t i = 0; i < 3; ++i) {
      const float v = c.values[c.values.size() == 1 ? 0 : i];
      if (node.op == "Sub") chain.mean[i] += v / chain.scale[i];
      if (node.op == "Add") chain.mean[i] -= v / chain.scale[i];
      const float factor = node.op == "Mul" ? v : node.op == "Div" ? 1 / v : 1;
      if (factor == 0 || !std::isfinite(factor)) refuse("it leaves nothing of a channel");
      chain.scale[i] *= factor;
    }
    read_.saysInput = true;
    return value;
  }

  std::size_t channelsOf(const Value& value) {
    if (value.parts.empty()) return value.layer < 0 ? 3 : layers()[value.layer].outputs;
    std::size_t sum = 0;
    for (const Value& part : value.parts) sum += channelsOf(part);
    return sum;
  }

  // How a value's sides came about.
  std::string lossesOf(const Value& value) const {
    const std::string own = value.layer < 0 ? std::string() : states_[value.layer].losses;
    return value.pooling == Pooling::none ? own : own + (value.window.size == 2 ? 'd' : 'u');
  }

  // A layer that others take from changes no more.
  void settle(const Value& value) {
    if (!value.open) return;
    LayerState& state = states_[value.layer];
    if (value.changes != state.changes || (state.done && layers()[value.layer].negativeSlope < 1))
      refuse(fmt::format("{} is wanted before and behind what follows it", layers()[value.layer].name));
    if (!state.done) layers()[value.layer].negativeSlope = 1;
    state.done = true;
  }

  bool mayChange(const Value& value) const {
    return value.plain() && value.open && !value.shared && !states_[value.layer].done &&
           states_[value.layer].changes == value.changes;
  }

  Value openLayer(Convolution layer, const Value& from, std::string losses) {
    layer.pooling = from.pooling;
    layer.window = from.window;
    layer.input = from.layer == countOf(layers()) - 1 ? -1 : from.layer;
    if (from.layer < 0 && !layers().empty()) refuse("a second way begins at the picture");
    if (countOf(layers()) >= kMostLayers) refuse(fmt::format("there are over {} layers", kMostLayers));
    if (losses.size() > kMostHalvings) refuse("it leaves less than a thousandth of the picture's sides");
    layers().push_back(std::move(layer));
    states_.push_back({0, false, {}, std::move(losses)});
    Value made;
    made.layer = countOf(layers()) - 1;
    made.open = true;
    return made;
  }

  // To be asked before so many weights are made.
  void requireRoom(std::size_t weights) {
    weights_ += weights;
    if (weights_ > kMostWeights)
      refuse(fmt::format("all weights together would take over {} MB", (kMostWeights * sizeof(float)) >> 20));
  }

  // A layer that does nothing, where what stands there can take nothing more upon itself.
  Value throughNothing(const Value& value) {
    if (value.layer < 0) refuse("it stands before the first convolution");
    if (value.padded != kNothing) refuse("it stands between a Pad and the convolution or pool that it is of");
    settle(value);
    Convolution layer;
    layer.name = fmt::format("between_{}", layers().size());
    layer.inputs = layer.outputs = static_cast<int>(channelsOf(value));
    layer.kernel = 1;
    requireRoom(cellCount(layer.outputs, layer.inputs));
    layer.weights.assign(cellCount(layer.outputs, layer.inputs), 0.0F);
    for (int c = 0; c < layer.outputs; ++c) layer.weights[cellAt(c, c, layer.inputs)] = 1;
    layer.bias.assign(layer.outputs, 0.0F);
    return openLayer(std::move(layer), value, lossesOf(value));
  }

  // factor * a + offset of each channel.
  Value changed(const Value& value, const std::vector<float>& factors, const std::vector<float>& offsets) {
    for (const auto* values : {&factors, &offsets}) {
      if (!std::all_of(values->begin(), values->end(), [](float v) { return std::isfinite(v); }))
        refuse("it makes values that are no numbers");
    }
    if (!value.parts.empty()) {
      Value all;
      std::size_t begin = 0;
      for (const Value& part : value.parts) {
        const std::size_t end = begin + channelsOf(part);
        all.parts.push_back(changed(part, {factors.begin() + begin, factors.begin() + end},
                                    {offsets.begin() + begin, offsets.begin() + end}));
        begin = end;
      }
      return all;
    }
    const bool own =
        mayChange(value) && (layers()[value.layer].plus < 0 || !states_[value.layer].together.empty());
    Value made = own ? value : throughNothing(value);
    std::vector<int> among = states_[made.layer].together;
    if (among.empty()) among = {made.layer};
    for (const int layer : among) {
      Convolution& conv = layers()[layer];
      const std::size_t each = conv.weights.size() / conv.bias.size();
      for (std::size_t o = 0; o < conv.bias.size(); ++o) {
        for (std::size_t i = 0; i < each; ++i) conv.weights[o * each + i] *= factors[o];
        conv.bias[o] = conv.bias[o] * factors[o] + (layer == made.layer ? offsets[o] : 0);
      }
    }
    made.changes = ++states_[made.layer].changes;
    return made;
  }

  Value padded(const OnnxNode& node, const Value& value) const {
    const auto mode = node.strings.find("mode");
    if (mode != node.strings.end() && mode->second != "constant") refuse("it pads with other than zeros");
    Ints pads = node.intsOr("pads", {});
    if (pads.empty()) {
      const OnnxConstant* given = constantFor(node, 1);
      if (given != nullptr)
        for (const float v : given->values) pads.push_back(static_cast<std::int64_t>(v));
    }
    const OnnxConstant* with = constantFor(node, 2);
    const auto old = node.floats.find("value");
    if ((with != nullptr && !with->values.empty() && with->values[0] != 0) ||
        (old != node.floats.end() && old->second != 0))
      refuse("it pads with other than zeros");
    requirePads(pads, 8);
    if (pads[0] != 0 || pads[1] != 0 || pads[4] != 0 || pads[5] != 0)
      refuse("it pads other sides than those of the picture");
    if (value.padded != kNothing) refuse("it follows another Pad");
    Value made = value;
    made.padded = {pads[2], pads[3]};
    for (Value& part : made.parts) part.padded = made.padded;
    return made;
  }

  static void requirePads(const Ints& pads, std::size_t count) {
    if (pads.size() != count) refuse("its pads are not of a picture");
    const auto [least, most] = std::minmax_element(pads.begin(), pads.end());
    if (*least < 0 || *most > kMostPadding)
      refuse(fmt::format("its pads are {}, not from 0 to {}", fmt::join(pads, ","), kMostPadding));
  }

  static std::int64_t numberOr(const OnnxNode& node, const char* name, std::int64_t otherwise) {
    const Ints found = node.intsOr(name, {otherwise});
    if (found.size() != 1) refuse(fmt::format("its {} is no number", name));
    return found.front();
  }

  static void requireInts(const OnnxNode& node, const char* name, const Ints& wanted) {
    const auto found = node.intsOr(name, wanted);
    if (found != wanted) refuse(fmt::format("its {} are {}", name, fmt::join(found, ",")));
  }

  // Positions of padding above and to the left that the file asks for.
  static std::int64_t paddingOf(const OnnxNode& node, const Value& value, std::int64_t kernel,
                                std::int64_t stride) {
    const auto automatic = node.strings.find("auto_pad");
    const std::string word = automatic == node.strings.end() ? "NOTSET" : automatic->second;
    // Of sides that the stride divides.
    const std::int64_t total = std::max<std::int64_t>(0, kernel - stride);
    if (word == "SAME_UPPER") return total / 2;
    if (word == "SAME_LOWER") return total - total / 2;
    const Ints pads = word == "VALID" ? Ints(4, 0) : node.intsOr("pads", Ints(4, 0));
    requirePads(pads, 4);
    if (pads[0] + value.padded[0] != pads[1] + value.padded[1])
      refuse(fmt::format("its pads are {}, not alike above and to the left", fmt::join(pads, ",")));
    return pads[0] + value.padded[0];
  }

  Value convolved(const OnnxNode& node, const Value& value) {
    const OnnxConstant* w = constantFor(node, 1);
    if (w == nullptr || w->shape.size() != 4) refuse("its weights are not those of a convolution");
    const int inputs = static_cast<int>(channelsOf(value));
    const auto groups = numberOr(node, "group", 1);
    const std::int64_t outputs = w->shape[0];
    const std::int64_t k = w->shape[2];
    if (groups < 1 || groups > inputs || inputs % groups != 0 || outputs % groups != 0 ||
        w->shape[1] != inputs / groups || outputs < 1 || outputs > kMaxChannels)
      refuse(fmt::format("its weights do not take {} channels", inputs));
    if (w->shape[3] != k || k % 2 == 0 || k > kMaxKernel)
      refuse(fmt::format("its kernel is {}x{}, not square and odd, up to {}x{}", k, w->shape[3], kMaxKernel,
                         kMaxKernel));
    requireInts(node, "dilations", {1, 1});
    const Ints strides = node.intsOr("strides", {1, 1});
    if (strides.size() != 2 || strides[0] != strides[1] ||
        (strides[0] != 1 && strides[0] != 2 && strides[0] != 4))
      refuse(fmt::format("its strides are {}, not 1, 2 or 4 both ways", fmt::join(strides, ",")));
    Convolution conv;
    conv.name = node.outputs[0];
    conv.inputs = inputs;
    conv.outputs = static_cast<int>(outputs);
    conv.kernel = static_cast<int>(k);
    conv.stride = static_cast<int>(strides[0]);
    conv.shift = shiftFor(paddingOf(node, value, k, strides[0]), k, strides[0]);
    requireRoom(cellCount(conv.outputs, conv.inputs) * cellCount(conv.kernel, conv.kernel));
    conv.weights = withoutGroups(*w, inputs, static_cast<int>(groups));
    conv.bias.assign(outputs, 0.0F);
    if (const OnnxConstant* b = constantFor(node, 2); b != nullptr) {
      if (b->values.size() != conv.bias.size()) refuse("its bias does not match its weights");
      conv.bias = b->values;
    }
    return value.parts.empty() ? whole(std::move(conv), value) : inParts(conv, value);
  }

  // Centred as far as the stride leaves the same positions: what a window sees is the file's, and the sides
  // keep their length, or a whole part of it.
  int shiftFor(std::int64_t padding, std::int64_t kernel, std::int64_t stride) {
    std::int64_t best = padding;
    for (std::int64_t p = padding % stride; p < kernel; p += stride) {
      if (std::abs(p - kernel / 2) < std::abs(best - kernel / 2)) best = p;
    }
    if (best >= kernel) refuse(fmt::format("it is padded by {} for a kernel of {}", padding, kernel));
    if (best != padding) ++read_.madeWhole;
    return static_cast<int>(best - kernel / 2);
  }

  Value whole(Convolution conv, const Value& value) {
    settle(value);
    std::string losses = lossesOf(value);
    for (int s = conv.stride; s > 1; s /= 2) losses += 'u';
    return openLayer(std::move(conv), value, std::move(losses));
  }

  // A convolution of several outputs side by side is the sum of one of each.
  Value inParts(const Convolution& conv, const Value& value) {
    const std::size_t area = cellCount(conv.kernel, conv.kernel);
    std::vector<int> together;
    Value last;
    std::size_t begin = 0;
    for (const Value& part : value.parts) {
      const std::size_t channels = channelsOf(part);
      const bool isLast = &part == &value.parts.back();
      Convolution own = conv;
      if (!isLast) own.name = fmt::format("{}_of_{}", conv.name, together.size() + 1);
      own.inputs = static_cast<int>(channels);
      own.weights.clear();
      for (std::size_t o = 0; o < conv.bias.size(); ++o) {
        const float* from = &conv.weights[(o * conv.inputs + begin) * area];
        own.weights.insert(own.weights.end(), from, from + channels * area);
      }
      if (!isLast) own.bias.assign(own.bias.size(), 0.0F);
      own.plus = together.empty() ? -1 : together.back();
      if (!together.empty()) {
        layers()[together.back()].negativeSlope = 1;
        states_[together.back()].done = true;
      }
      last = whole(std::move(own), part);
      together.push_back(last.layer);
      begin += channels;
    }
    if (together.size() > 1) states_[last.layer].together = together;
    return last;
  }

  // Channels of other groups count nothing.
  static std::vector<float> withoutGroups(const OnnxConstant& w, int inputs, int groups) {
    if (groups == 1) return w.values;
    const std::size_t area = w.shape[2] * w.shape[3];
    const std::size_t own = inputs / groups;
    const std::size_t outputs = w.shape[0];
    std::vector<float> dense(outputs * inputs * area, 0.0F);
    for (std::size_t o = 0; o < outputs; ++o) {
      const std::size_t first = o / (outputs / groups) * own;
      std::copy_n(&w.values[o * own * area], own * area, &dense[(o * inputs + first) * area]);
    }
    return dense;
  }

  // gain * (a - mean) / deviation + offset
  Value normalised(const OnnxNode& node, const Value& value) {
    const std::size_t channels = channelsOf(value);
    if (value.layer < 0 && value.parts.empty()) refuse("it does not follow a convolution");
    std::array<const std::vector<float>*, 4> values{};
    for (std::size_t i = 0; i < 4; ++i) {
      const OnnxConstant* c = constantFor(node, i + 1);
      if (c == nullptr || c->values.size() != channels) refuse("its values do not match its channels");
      values[i] = &c->values;
    }
    const auto given = node.floats.find("epsilon");
    const float epsilon = given == node.floats.end() ? 1e-5F : given->second;
    std::vector<float> factors;
    std::vector<float> offsets;
    for (std::size_t o = 0; o < channels; ++o) {
      const float variance = (*values[3])[o] + epsilon;
      if (!(variance > 0)) refuse("its variance is not above 0");
      factors.push_back((*values[0])[o] / std::sqrt(variance));
      offsets.push_back((*values[1])[o] - (*values[2])[o] * factors.back());
    }
    return changed(value, factors, offsets);
  }

  static float slopeOf(const OnnxNode& node) {
    const auto given = node.floats.find("alpha");
    const float slope = given == node.floats.end() ? 0.01F : given->second;
    if (!(slope >= 0 && slope < 1)) refuse(fmt::format("its slope is {}, not from 0 to below 1", slope));
    return slope;
  }

  Value rectified(const OnnxNode& node, const Value& value, float slope) {
    if (!value.parts.empty()) {
      Value all;
      for (const Value& part : value.parts) all.parts.push_back(rectifiedOne(part, slope));
      return all;
    }
    Value made = rectifiedOne(value, slope);
    read_.rectified[node.outputs.front()] = made.layer;
    return made;
  }

  Value rectifiedOne(const Value& value, float slope) {
    if (value.layer < 0) refuse("it does not follow a convolution");
    Value made = mayChange(value) ? value : throughNothing(value);
    layers()[made.layer].negativeSlope = slope;
    states_[made.layer].done = true;
    made.open = false;
    return made;
  }

  Value pooled(const OnnxNode& node, const Value& value, Pooling kind) {
    if (!value.parts.empty()) {
      Value all;
      for (const Value& part : value.parts) all.parts.push_back(pooled(node, part, kind));
      return all;
    }
    if (value.layer < 0) refuse("it does not follow a convolution");
    const Ints size = node.intsOr("kernel_shape", {});
    if ((size != Ints{2, 2} && size != Ints{3, 3}) || node.intsOr("strides", {1, 1}) != Ints{2, 2})
      refuse("it does not take windows of 2x2 or 3x3 at every second position");
    requireInts(node, "dilations", {1, 1});
    Value from = value;
    if (from.pooling != Pooling::none) from = throughNothing(from);
    settle(from);
    const std::int64_t before = paddingOf(node, value, size[0], 2);
    if (before > (size[0] == 3 ? 1 : 0)) refuse(fmt::format("it is padded by {}", before));
    if (size[0] == 2) requireInts(node, "ceil_mode", {0});
    // Ours counts what lies in the picture only.
    if (kind == Pooling::average && before > 0) {
      if (value.padded != kNothing) refuse("it takes the mean of zeros around the picture, too");
      requireInts(node, "count_include_pad", {0});
    }
    Value made;
    made.layer = from.layer;
    made.pooling = kind;
    made.window = {static_cast<int>(size[0]), static_cast<int>(before)};
    if (takers_[node.outputs.front()] < 2) return made;
    // Pooled once for all who take it.
    Value once = throughNothing(made);
    settle(once);
    once.open = false;
    return once;
  }

  Value concatenation(const OnnxNode& node) {
    const auto axis = numberOr(node, "axis", 1);
    if (axis != 1 && axis != -3) refuse("it puts other than channels side by side");
    Value all;
    for (std::size_t i = 0; i < node.inputs.size(); ++i) {
      const Value* part = valueOf(node, i);
      if (part == nullptr) refuse(fmt::format("its input {} could not be taken", node.inputs[i]));
      if (part->layer < 0 && part->parts.empty()) refuse("it puts the picture beside a layer");
      if (part->padded != kNothing) refuse("it puts side by side what is padded");
      if (part->parts.empty())
        all.parts.push_back(*part);
      else
        all.parts.insert(all.parts.end(), part->parts.begin(), part->parts.end());
    }
    if (all.parts.size() > kMostParts) refuse(fmt::format("it puts over {} layers side by side", kMostParts));
    for (const Value& part : all.parts) requireOneSize(part, all.parts.front());
    return all;
  }

  void requireOneSize(const Value& a, const Value& b) const {
    if (lossesOf(a) != lossesOf(b))
      refuse("what it brings together is not of one size, or not where sides are odd");
  }

  // Becomes part of one of them whose convolution comes after the other.
  Value sum(const Value& a, const Value& b) {
    if (!a.parts.empty() || !b.parts.empty()) refuse("it adds to layers side by side");
    if (a.layer < 0 || b.layer < 0) refuse("it adds to the picture");
    if (a.padded != kNothing || b.padded != kNothing) refuse("it adds to what is padded");
    requireOneSize(a, b);
    if (channelsOf(a) != channelsOf(b)) refuse("what it adds has other channels");
    const bool firstIsLater = a.layer > b.layer;
    const Value& later = firstIsLater ? a : b;
    const Value& earlier = firstIsLater ? b : a;
    for (const auto& [host, other] : {std::pair{later, earlier}, std::pair{earlier, later}}) {
      if (!mayChange(host) || other.pooling != Pooling::none) continue;
      const std::vector<int>& together = states_[host.layer].together;
      const int receives = together.empty() ? host.layer : together.front();
      if (layers()[receives].plus >= 0 || other.layer >= receives) continue;
      return joined(host, receives, other);
    }
    const Value other = earlier.pooling == Pooling::none ? earlier : throughNothing(earlier);
    const Value host = throughNothing(later);
    return joined(host, host.layer, other);
  }

  Value joined(Value host, int receives, const Value& other) {
    settle(other);
    layers()[receives].plus = other.layer;
    states_[host.layer].together.clear();
    host.changes = ++states_[host.layer].changes;
    return host;
  }

  const OnnxGraph& graph_;
  std::string file_;
  std::map<std::string, int> takers_;  // of each name
  std::map<std::string, Value> values_;
  std::vector<LayerState> states_;
  std::size_t weights_ = 0;  // so far
  ReadLayers read_;
};

}  // namespace

ReadLayers readLayers(const OnnxGraph& graph, const std::string& file) {
  return LayerReader(graph, file).read();
}

}  // namespace jugendstil
