// SPDX-License-Identifier: Apache-2.0
#include "network/import.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "base/error.h"
#include "base/number.h"
#include "network/evaluator.h"

namespace jugendstil {
namespace {

constexpr int kMaxChannels = 4096;
constexpr std::int64_t kMaxKernel = 11;

bool isAffine(const std::string& op) { return op == "Sub" || op == "Add" || op == "Mul" || op == "Div"; }

// Walks from the picture to the deepest band.
class Importer {
 public:
  Importer(const OnnxGraph& graph, std::string file, const ImportSettings& settings)
      : graph_(graph), file_(std::move(file)), settings_(settings) {
    for (const auto* names : {&settings.style, &settings.content})
      wanted_.insert(names->begin(), names->end());
  }

  Chain chain() {
    chain_.name = graph_.name;
    chain_.checksum = graph_.checksum;
    if (graph_.inputs.size() != 1)
      throw Error(fmt::format("{}: has {} inputs; one RGB picture is expected", file_, graph_.inputs.size()));
    current_ = graph_.inputs.front().name;
    while (!wanted_.empty()) {
      const OnnxNode* node = next();
      if (node == nullptr) break;
      take(*node);
      current_ = node->outputs.front();
    }
    requireAllFound();
    setInput();
    chain_.styleBands = named(settings_.style);
    chain_.contentBands = named(settings_.content);
    return std::move(chain_);
  }

 private:
  [[noreturn]] void refuse(const OnnxNode& node, const std::string& why) const {
    throw Error(fmt::format("{}: cannot take {}: {}", file_, node.label(), why));
  }

  // What follows; more than one does where the graph branches.
  const OnnxNode* next() const {
    const OnnxNode* found = nullptr;
    for (const OnnxNode& node : graph_.nodes) {
      if (std::find(node.inputs.begin(), node.inputs.end(), current_) == node.inputs.end()) continue;
      if (node.op == "Shape") continue;  // of exporters that compute what they flatten to
      if (found != nullptr)
        refuse(node,
               fmt::format("{} goes on in two branches, this one and {}; only plain chains can be taken",
                           current_, found->label()));
      found = &node;
    }
    if (found != nullptr && (found->inputs[0] != current_ || found->outputs.empty())) {
      if (found->op != "Add" && found->op != "Mul")
        refuse(*found, "what comes from the layer before it is not its first input");
    }
    return found;
  }

  const OnnxConstant* constantFor(const OnnxNode& node, std::size_t index) const {
    if (index >= node.inputs.size() || node.inputs[index].empty()) return nullptr;
    const auto found = graph_.constants.find(node.inputs[index]);
    if (found == graph_.constants.end())
      refuse(node, fmt::format("its input {} is not a constant", node.inputs[index]));
    return &found->second;
  }

  void take(const OnnxNode& node) {
    const std::string& op = node.op;
    if (op == "Identity" || op == "Dropout") return;
    if (isAffine(op)) return takeAffine(node);
    if (op == "Pad") return takePad(node);
    if (op == "Conv") return takeConv(node);
    if (op == "BatchNormalization") return takeNormalisation(node);
    if (op == "Relu") return takeRelu(node);
    if (op == "MaxPool") return takePool(node, Pooling::maximum);
    if (op == "AveragePool") return takePool(node, Pooling::average);
    refuse(node,
           fmt::format("it is none of Conv, BatchNormalization, Relu, MaxPool, AveragePool, Pad, Dropout and "
                       "Identity, and the layer {} does not come before it; there are {}",
                       *wanted_.begin(), fmt::join(found_, ", ")));
  }

  // Of the file's own channels, before the first convolution; an Add behind one is its bias.
  void takeAffine(const OnnxNode& node) {
    if (!chain_.convolutions.empty()) return takeBias(node);
    const bool first = node.inputs[0] == current_;
    if (!first && node.op != "Add" && node.op != "Mul") refuse(node, "the picture is not its first input");
    const OnnxConstant& c = *constantFor(node, first ? 1 : 0);
    if (c.values.size() != 1 && c.values.size() != 3) refuse(node, "its constant needs one value or three");
    for (std::size_t i = 0; i < 3; ++i) {
      const float v = c.values[c.values.size() == 1 ? 0 : i];
      if (node.op == "Sub") shift_[i] -= v;
      if (node.op == "Add") shift_[i] += v;
      const float factor = node.op == "Mul" ? v : node.op == "Div" ? 1 / v : 1;
      if (factor == 0 || !std::isfinite(factor)) refuse(node, "it leaves nothing of a channel");
      gain_[i] *= factor;
      shift_[i] *= factor;
    }
    normalises_ = true;
  }

  void takeBias(const OnnxNode& node) {
    if (activated_ || node.op != "Add") refuse(node, "it stands behind a convolution");
    std::vector<float>& bias = chain_.convolutions.back().bias;
    const OnnxConstant& c = *constantFor(node, node.inputs[0] == current_ ? 1 : 0);
    const bool each = c.values.size() == bias.size() && c.shape.size() >= 3 &&
                      c.shape[c.shape.size() - 3] == static_cast<std::int64_t>(bias.size());
    if (!each && c.values.size() != 1) refuse(node, "its constant is no value for each channel");
    for (std::size_t i = 0; i < bias.size(); ++i) bias[i] += c.values[each ? i : 0];
  }

  void takePad(const OnnxNode& node) {
    const auto mode = node.strings.find("mode");
    if (mode != node.strings.end() && mode->second != "constant")
      refuse(node, "it pads with other than zeros");
    std::vector<std::int64_t> pads = node.intsOr("pads", {});
    if (pads.empty()) {
      const OnnxConstant* given = constantFor(node, 1);
      if (given != nullptr)
        for (const float v : given->values) pads.push_back(static_cast<std::int64_t>(v));
    }
    const OnnxConstant* value = constantFor(node, 2);
    if (value != nullptr && !value->values.empty() && value->values[0] != 0)
      refuse(node, "it pads with other than zeros");
    if (pads.size() != 8 || pads[0] != 0 || pads[1] != 0 || pads[4] != 0 || pads[5] != 0)
      refuse(node, "it pads other sides than those of the picture");
    padded_ = {pads[2], pads[3], pads[6], pads[7]};
  }

  void requireInts(const OnnxNode& node, const char* name, const std::vector<std::int64_t>& wanted) const {
    const auto found = node.intsOr(name, wanted);
    if (found != wanted) refuse(node, fmt::format("its {} are {}", name, fmt::join(found, ",")));
  }

  void requireKeptSize(const OnnxNode& node, std::int64_t kernel) const {
    const auto automatic = node.strings.find("auto_pad");
    const std::string word = automatic == node.strings.end() ? "NOTSET" : automatic->second;
    if (word == "SAME_UPPER" || word == "SAME_LOWER") return;
    std::vector<std::int64_t> pads = word == "VALID" ? std::vector<std::int64_t>(4, 0)
                                                     : node.intsOr("pads", std::vector<std::int64_t>(4, 0));
    if (pads.size() != 4) refuse(node, "its pads are not of a picture");
    for (std::size_t i = 0; i < 4; ++i) {
      if (pads[i] + padded_[i] != kernel / 2)
        refuse(node, fmt::format("with pads of {} its result is not of the size of what comes in",
                                 fmt::join(pads, ",")));
    }
  }

  void takeConv(const OnnxNode& node) {
    if (!activated_) refuse(node, "the convolution before it has no Relu");
    const OnnxConstant* w = constantFor(node, 1);
    if (w == nullptr || w->shape.size() != 4) refuse(node, "its weights are not those of a convolution");
    const int inputs = chain_.convolutions.empty() ? 3 : chain_.convolutions.back().outputs;
    const auto groups = node.intsOr("group", {1}).front();
    const std::int64_t outputs = w->shape[0];
    const std::int64_t k = w->shape[2];
    if (groups < 1 || groups > inputs || inputs % groups != 0 || outputs % groups != 0 ||
        w->shape[1] != inputs / groups || outputs > kMaxChannels)
      refuse(node, fmt::format("its weights do not take {} channels", inputs));
    if (w->shape[3] != k || k % 2 == 0 || k > kMaxKernel)
      refuse(node, fmt::format("its kernel is {}x{}, not square and odd, up to {}x{}", k, w->shape[3],
                               kMaxKernel, kMaxKernel));
    requireInts(node, "strides", {1, 1});
    requireInts(node, "dilations", {1, 1});
    requireKeptSize(node, k);
    Convolution conv;
    conv.inputs = inputs;
    conv.outputs = static_cast<int>(outputs);
    conv.kernel = static_cast<int>(k);
    conv.pooling = pooled_;
    if (conv.pools()) {
      stride_ *= 2;
      ++block_;
      inBlock_ = 0;
    }
    conv.name = fmt::format("{}_{}", block_, ++inBlock_);
    conv.weights = withoutGroups(*w, inputs, static_cast<int>(groups));
    conv.bias.assign(outputs, 0.0F);
    if (const OnnxConstant* b = constantFor(node, 2); b != nullptr) {
      if (b->values.size() != conv.bias.size()) refuse(node, "its bias does not match its weights");
      conv.bias = b->values;
    }
    field_ += (conv.kernel - 1) * stride_;
    chain_.convolutions.push_back(std::move(conv));
    pooled_ = Pooling::none;
    padded_ = {};
    activated_ = false;
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

  // gain * (a - mean) / deviation + offset, into the convolution before it.
  void takeNormalisation(const OnnxNode& node) {
    if (activated_ || chain_.convolutions.empty()) refuse(node, "it does not follow a convolution");
    Convolution& conv = chain_.convolutions.back();
    std::array<const std::vector<float>*, 4> values{};
    for (std::size_t i = 0; i < 4; ++i) {
      const OnnxConstant* c = constantFor(node, i + 1);
      if (c == nullptr || c->values.size() != conv.bias.size())
        refuse(node, "its values do not match its channels");
      values[i] = &c->values;
    }
    const auto given = node.floats.find("epsilon");
    const float epsilon = given == node.floats.end() ? 1e-5F : given->second;
    const std::size_t each = conv.weights.size() / conv.bias.size();
    for (std::size_t o = 0; o < conv.bias.size(); ++o) {
      const float variance = (*values[3])[o] + epsilon;
      if (!(variance > 0)) refuse(node, "its variance is not above 0");
      const float factor = (*values[0])[o] / std::sqrt(variance);
      for (std::size_t i = 0; i < each; ++i) conv.weights[o * each + i] *= factor;
      conv.bias[o] = (conv.bias[o] - (*values[2])[o]) * factor + (*values[1])[o];
    }
  }

  void takeRelu(const OnnxNode& node) {
    if (activated_) refuse(node, "it does not follow a convolution");
    activated_ = true;
    const Convolution& conv = chain_.convolutions.back();
    found_.push_back(conv.name);
    for (const std::string& name : {conv.name, node.outputs.front()}) {
      if (wanted_.erase(name) == 0) continue;
      bandOf_[name] = conv.name;
      if (chain_.bands.empty() || chain_.bands.back().name != conv.name)
        chain_.bands.push_back({conv.name, countOf(chain_.convolutions) - 1, conv.outputs, stride_, field_});
    }
  }

  void takePool(const OnnxNode& node, Pooling kind) {
    if (!activated_ || chain_.convolutions.empty() || pooled_ != Pooling::none)
      refuse(node, "it does not follow a Relu");
    if (node.intsOr("kernel_shape", {}) != std::vector<std::int64_t>{2, 2} ||
        node.intsOr("strides", {1, 1}) != std::vector<std::int64_t>{2, 2})
      refuse(node, "it does not take 2x2 positions to one");
    requireInts(node, "pads", {0, 0, 0, 0});
    requireInts(node, "dilations", {1, 1});
    pooled_ = settings_.pooling.value_or(kind);
    field_ += stride_;
  }

  void requireAllFound() const {
    if (!wanted_.empty())
      throw UsageError(fmt::format("{} has no layer \"{}\"; those that can be bands are {}", file_,
                                   *wanted_.begin(), fmt::join(found_, ", ")));
  }

  // ((x - mean) * scale) of red, green and blue, whatever order the file has them in.
  void setInput() {
    if (!settings_.input && !normalises_)
      throw UsageError(
          fmt::format("{} does not say which colour values it wants: from 0 to 1 or to 255, red or blue "
                      "first, which mean and deviation taken off",
                      file_));
    const InputValues in = settings_.input.value_or(InputValues{});
    Convolution& first = chain_.convolutions.front();
    for (std::size_t c = 0; c < 3; ++c) {
      const std::size_t own = in.blueFirst ? 2 - c : c;
      const float scale = gain_[own] * in.white / in.deviation[c];
      chain_.scale[c] = scale;
      chain_.mean[c] = in.mean[c] / in.white - shift_[own] / scale;
    }
    if (!in.blueFirst) return;
    const std::size_t area = cellCount(first.kernel, first.kernel);
    for (std::size_t o = 0; o < first.bias.size(); ++o) {
      float* blue = &first.weights[o * 3 * area];
      std::swap_ranges(blue, blue + area, blue + 2 * area);
    }
  }

  std::vector<std::string> named(const std::vector<std::string>& asked) const {
    std::vector<std::string> names;
    for (const std::string& name : asked) {
      const std::string& band = bandOf_.at(name);
      if (std::find(names.begin(), names.end(), band) == names.end()) names.push_back(band);
    }
    return names;
  }

  const OnnxGraph& graph_;
  std::string file_;
  const ImportSettings& settings_;
  std::set<std::string> wanted_;               // bands that have not come yet
  std::map<std::string, std::string> bandOf_;  // by the name that was asked for
  std::vector<std::string> found_;
  std::string current_;
  std::array<float, 3> gain_{1, 1, 1};  // of the file's channels, then the shift
  std::array<float, 3> shift_{};
  bool normalises_ = false;
  std::array<std::int64_t, 4> padded_{};  // top, left, bottom, right, for the next convolution
  bool activated_ = true;
  Pooling pooled_ = Pooling::none;
  int block_ = 1;
  int inBlock_ = 0;
  int stride_ = 1;
  int field_ = 1;
  Chain chain_;
};

OnnxConstant perChannel(const std::array<float, 3>& values) {
  return {{1, 3, 1, 1}, {values.begin(), values.end()}};
}

}  // namespace

bool saysItsInput(const OnnxGraph& graph) {
  const auto first = std::find_if(graph.nodes.begin(), graph.nodes.end(), [](const OnnxNode& node) {
    return node.op != "Identity" && node.op != "Dropout";
  });
  return first != graph.nodes.end() && isAffine(first->op);
}

Chain importedChain(const OnnxGraph& graph, const std::string& file, const ImportSettings& settings) {
  if (settings.style.empty() || settings.content.empty())
    throw UsageError("an imported network needs bands for style and for content");
  return Importer(graph, file, settings).chain();
}

void scaleToMeanOne(Chain& chain, const std::vector<SamplePicture>& pictures) {
  Chain all = chain;
  all.bands.clear();
  std::vector<std::size_t> every;
  for (std::size_t i = 0; i < chain.convolutions.size(); ++i) {
    every.push_back(i);
    all.bands.push_back({chain.convolutions[i].name, static_cast<int>(i), chain.convolutions[i].outputs});
  }
  std::vector<double> means(every.size(), 0.0);
  for (const SamplePicture& picture : pictures) {
    Evaluator evaluator(all, picture.width, picture.height, Precision::full, every);
    evaluator.forward(picture.planes[0], picture.planes[1], picture.planes[2]);
    for (const std::size_t layer : every) {
      const std::vector<float>& mean = evaluator.mean(layer);
      for (const float m : mean)
        means[layer] += static_cast<double>(m) / static_cast<double>(mean.size() * pictures.size());
    }
  }
  double before = 1;  // by which what comes in was scaled
  for (std::size_t i = 0; i < every.size(); ++i) {
    if (!(means[i] > 0) || !std::isfinite(means[i]))
      throw Error(
          fmt::format("the network's layer {} answers nothing to pictures; are the colour values right "
                      "(0 to 1 or to 255, red or blue first)?",
                      chain.convolutions[i].name));
    const double scale = 1 / means[i];
    for (float& w : chain.convolutions[i].weights) w = static_cast<float>(w * scale / before);
    for (float& b : chain.convolutions[i].bias) b = static_cast<float>(b * scale);
    before = scale;
  }
}

OnnxGraph graphOf(const Chain& chain, std::map<std::string, std::string> notes) {
  OnnxGraph graph;
  graph.name = chain.name.empty() ? "network" : chain.name;
  graph.metadata = std::move(notes);
  graph.metadata["style_bands"] = fmt::format("{}", fmt::join(chain.styleBands, ","));
  graph.metadata["content_bands"] = fmt::format("{}", fmt::join(chain.contentBands, ","));
  graph.inputs = {{"image", {"1", "3", "height", "width"}}};
  std::string last = "image";
  const auto add = [&](const char* op, std::vector<std::string> inputs,
                       const std::string& output) -> OnnxNode& {
    OnnxNode node;
    node.op = op;
    node.name = output;
    node.inputs = std::move(inputs);
    node.outputs = {output};
    last = output;
    return graph.nodes.emplace_back(std::move(node));
  };
  graph.constants["mean"] = perChannel(chain.mean);
  graph.constants["scale"] = perChannel(chain.scale);
  add("Sub", {last, "mean"}, "centred");
  add("Mul", {last, "scale"}, "scaled");
  for (const Convolution& conv : chain.convolutions) {
    const std::int64_t k = conv.kernel;
    if (conv.pools()) {
      OnnxNode& pool =
          add(conv.pooling == Pooling::maximum ? "MaxPool" : "AveragePool", {last}, "pooled_" + conv.name);
      pool.ints = {{"kernel_shape", {2, 2}}, {"strides", {2, 2}}};
    }
    graph.constants["weights_" + conv.name] = {{conv.outputs, conv.inputs, k, k}, conv.weights};
    graph.constants["bias_" + conv.name] = {{conv.outputs}, conv.bias};
    add("Conv", {last, "weights_" + conv.name, "bias_" + conv.name}, "convolved_" + conv.name).ints = {
        {"pads", {k / 2, k / 2, k / 2, k / 2}}, {"kernel_shape", {k, k}}};
    const auto tapped = std::find_if(chain.bands.begin(), chain.bands.end(), [&](const Band& band) {
      return &chain.convolutions[band.layer] == &conv;
    });
    add("Relu", {last}, tapped == chain.bands.end() ? conv.name : tapped->name);
  }
  for (const Band& band : chain.bands)
    graph.outputs.push_back(
        {band.name, {"1", std::to_string(band.channels), band.name + "_height", band.name + "_width"}});
  return graph;
}

}  // namespace jugendstil
