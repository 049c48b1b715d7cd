// SPDX-License-Identifier: Apache-2.0
#include "learn/general_painter.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/error.h"
#include "base/number.h"
#include "image/resample.h"
#include "learn/painter_file.h"
#include "network/onnx_file.h"
#include "paint/frame.h"
#include "paint/reference.h"

namespace jugendstil {
namespace {

const std::string kManner = "manner";
const std::string kNetwork = "jugendstil.network";
constexpr int kMostHidden = 4096;
constexpr int kMostNumbers = 65536;
// What a photo of common proportions is to its references.
constexpr double kShortSide = 0.75;

// The nodes that turn a manner into scales and shifts, in front of the painter's own.
class Front {
 public:
  explicit Front(const MannerNet& net) : net_(net) {
    constant("manner.centre", {net.inputs()}, net.centre);
    constant("manner.spread", {net.inputs()}, net.spread);
    node("Sub", {kManner, "manner.centre"}, "manner.centred");
    node("Div", {"manner.centred", "manner.spread"}, "manner.even");
    affine("manner.hidden", "manner.even", net.hidden, net.inputs(), 0, cellCount(net.hidden, net.inputs()));
    node("Relu", {"manner.hidden"}, "manner.rectified");
  }

  // Scale or shift of one normalisation: so many of what the second layer gives, from this one on.
  void output(const std::string& name, int first, int count) {
    const std::size_t layer = cellCount(net_.hidden, net_.inputs() + 1);
    affine(name, "manner.rectified", count, net_.hidden, layer + cellCount(first, net_.hidden),
           layer + cellCount(net_.outputs, net_.hidden) + first);
  }

  std::vector<OnnxNode> nodes;
  std::map<std::string, OnnxConstant> constants;

 private:
  void constant(const std::string& name, std::vector<std::int64_t> shape, std::vector<float> values) {
    constants[name] = {std::move(shape), std::move(values)};
  }
  void node(const char* op, std::vector<std::string> inputs, const std::string& output) {
    OnnxNode made;
    made.op = op;
    made.name = output;
    made.inputs = std::move(inputs);
    made.outputs = {output};
    nodes.push_back(std::move(made));
  }
  std::vector<float> parameters(std::size_t first, std::size_t count) const {
    const auto begin = net_.parameters.begin() + static_cast<std::ptrdiff_t>(first);
    return {begin, begin + static_cast<std::ptrdiff_t>(count)};
  }
  // A row of weights and a bias for each output, from these parameters on.
  void affine(const std::string& name, const std::string& from, int rows, int columns, std::size_t weights,
              std::size_t biases) {
    constant(name + ".weights", {rows, columns}, parameters(weights, cellCount(rows, columns)));
    constant(name + ".bias", {rows}, parameters(biases, rows));
    node("MatMul", {name + ".weights", from}, name + ".sums");
    node("Add", {name + ".sums", name + ".bias"}, name);
  }

  const MannerNet& net_;
};

bool isNormalisation(const OnnxNode& node) { return node.op == "InstanceNormalization"; }

// Reads the numbers of a file's front part.
class FrontReader {
 public:
  FrontReader(const OnnxGraph& graph, std::string file) : graph_(graph), file_(std::move(file)) {}

  const OnnxConstant& constant(const std::string& name, std::size_t dimensions) const {
    const auto found = graph_.constants.find(name);
    if (found == graph_.constants.end() || found->second.shape.size() != dimensions)
      fail(fmt::format("{} is missing or damaged", name));
    return found->second;
  }

  MannerNet net() const {
    MannerNet net;
    net.centre = constant("manner.centre", 1).values;
    net.spread = constant("manner.spread", 1).values;
    const OnnxConstant& first = constant("manner.hidden.weights", 2);
    if (net.centre.size() != net.spread.size() || net.centre.size() > kMostNumbers ||
        first.shape[1] != net.inputs() || first.shape[0] < 1 || first.shape[0] > kMostHidden)
      fail("the numbers of a manner do not fit each other");
    if (std::any_of(net.spread.begin(), net.spread.end(), [](float v) { return !(v > 0); }))
      fail("a spread is not above 0");
    net.hidden = static_cast<int>(first.shape[0]);
    append(net.parameters, first.values, cellCount(net.hidden, net.inputs()));
    append(net.parameters, constant("manner.hidden.bias", 1).values, net.hidden);
    std::vector<float> biases;
    for (const OnnxNode& node : graph_.nodes) {
      if (!isNormalisation(node)) continue;
      for (std::size_t i = 1; i <= 2; ++i) {
        if (node.inputs.size() != 3) fail(node.label() + " needs a scale and a shift");
        const OnnxConstant& weights = constant(node.inputs[i] + ".weights", 2);
        const std::size_t rows = std::max<std::int64_t>(0, weights.shape[0]);
        append(net.parameters, weights.values, rows * net.hidden);
        append(biases, constant(node.inputs[i] + ".bias", 1).values, rows);
      }
    }
    net.outputs = static_cast<int>(biases.size());
    net.parameters.insert(net.parameters.end(), biases.begin(), biases.end());
    return net;
  }

 private:
  [[noreturn]] void fail(const std::string& why) const {
    throw Error(fmt::format("{}: {}; this is no general painter of ours", file_, why));
  }
  void append(std::vector<float>& to, const std::vector<float>& values, std::size_t count) const {
    if (values.size() != count) fail("weights do not fit each other");
    to.insert(to.end(), values.begin(), values.end());
  }

  const OnnxGraph& graph_;
  std::string file_;
};

}  // namespace

Net netFor(const GeneralPainter& general, std::span<const float> manner) {
  Net net = general.net;
  const std::vector<std::size_t> places = normalisationPlaces(net);
  MannerPass pass(general.manners);
  const std::vector<float>& values = pass.forward(manner);
  if (values.size() != places.size()) throw Error("the general painter's parts do not fit each other");
  for (std::size_t i = 0; i < places.size(); ++i) net.parameters[places[i]] = values[i];
  return net;
}

QuickPainter painterFor(const GeneralPainter& general, const Chain& chain,
                        const std::vector<PaintReference>& references, const LearnSettings& settings) {
  if (general.network != chain.checksum)
    throw Error(
        "the general painter was trained with another feature network; it goes with the shipped one alone");
  QuickPainter painter;
  painter.settings = settings;
  for (const PaintReference& r : references)
    painter.references.push_back({trimmed(rgbOf(r.image), settings.painting.trim), r.share});
  painter.settings.painting.trim = 0;
  const Size picture{settings.longEdge, rounded(kShortSide * settings.longEdge)};
  const ReferenceTargets targets = measureReferences(
      chain, painter.references, picture, settings.painting.stroke, MeasureKind::gram, Precision::full);
  const double likeness = std::clamp(settings.painting.likeness, kLeastTrainedLikeness, kMostTrainedLikeness);
  painter.net = netFor(general, mannerOf(targets, likeness));
  return painter;
}

void writeGeneralPainter(const std::filesystem::path& path, const GeneralPainter& painter) {
  OnnxGraph graph = painterGraph({painter.net, painter.notes});
  graph.name = kGeneralPainterGraph;
  graph.metadata[kNetwork] = painter.network;
  Front front(painter.manners);
  int at = 0;
  for (const OnnxNode& node : graph.nodes) {
    if (!isNormalisation(node)) continue;
    for (std::size_t i = 1; i <= 2; ++i) {
      const auto count = static_cast<int>(graph.constants.at(node.inputs[i]).values.size());
      graph.constants.erase(node.inputs[i]);
      front.output(node.inputs[i], at, count);
      at += count;
    }
  }
  graph.inputs.push_back({kManner, {std::to_string(painter.manners.inputs())}});
  graph.nodes.insert(graph.nodes.begin(), front.nodes.begin(), front.nodes.end());
  graph.constants.merge(front.constants);
  writeOnnxGraph(path, graph);
}

GeneralPainter readGeneralPainter(const std::filesystem::path& path) {
  OnnxGraph graph = readOnnxGraph(path);
  if (graph.name != kGeneralPainterGraph)
    throw Error(fmt::format("{}: this is no general painter", path.string()));
  GeneralPainter general;
  general.manners = FrontReader(graph, path.string()).net();
  general.network = graph.metadata[kNetwork];
  // What is left is a painter whose scales and shifts are to come.
  graph.name = "painter";
  graph.inputs.resize(1);
  std::erase_if(graph.nodes, [](const OnnxNode& node) {
    return node.op == "MatMul" || (!node.outputs.empty() && node.outputs[0].starts_with(kManner)) ||
           (node.op == "Add" && node.inputs.size() == 2 && node.inputs[0].ends_with(".sums"));
  });
  for (const OnnxNode& node : graph.nodes) {
    if (!isNormalisation(node)) continue;
    for (std::size_t i = 1; i <= 2; ++i) {
      const std::size_t count = graph.constants.at(node.inputs[i] + ".bias").values.size();
      graph.constants[node.inputs[i]] = {{static_cast<std::int64_t>(count)}, std::vector<float>(count, 1.0F)};
    }
  }
  Painter painter = painterOf(graph, path.string());
  general.net = std::move(painter.net);
  general.notes = std::move(painter.notes);
  general.notes.erase(kNetwork);
  if (static_cast<int>(normalisationPlaces(general.net).size()) != general.manners.outputs)
    throw Error(fmt::format("{}: its scales and shifts do not fit its net", path.string()));
  return general;
}

}  // namespace jugendstil
