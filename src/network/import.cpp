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
#include "network/layer_reader.h"
#include "network/places.h"

namespace jugendstil {
namespace {

bool isAffine(const std::string& op) { return op == "Sub" || op == "Add" || op == "Mul" || op == "Div"; }

// The layers that can be bands, by number, in order.
std::vector<std::string> numbersOf(const ReadLayers& read, const std::vector<LayerPlace>& places) {
  std::set<int> layers;
  for (const auto& [name, layer] : read.rectified) layers.insert(layer);
  std::vector<std::string> numbers;
  for (const int layer : layers) numbers.push_back(places[layer].number);
  return numbers;
}

// By number, or by the graph's name for what stands behind its ReLU.
int layerNamed(const std::string& name, const ReadLayers& read, const std::vector<LayerPlace>& places,
               const std::string& file) {
  const auto named = read.rectified.find(name);
  if (named != read.rectified.end()) return named->second;
  for (const auto& [own, layer] : read.rectified) {
    if (places[layer].number == name) return layer;
  }
  const std::string there = fmt::format("{}", fmt::join(numbersOf(read, places), ", "));
  if (!read.refused.empty())
    throw Error(fmt::format("{}; and the layer {} does not come before it; {}", read.refused, name,
                            there.empty() ? "none does" : "there are " + there));
  throw UsageError(fmt::format("{} has no layer \"{}\"; those that can be bands are {}", file, name, there));
}

// Each once, and adds its band where there is none yet.
std::vector<std::string> tapped(Chain& chain, const std::vector<int>& layers,
                                const std::vector<LayerPlace>& places) {
  std::vector<std::string> names;
  for (const int layer : layers) {
    const std::string name = places[layer].number;
    if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
    const bool there =
        std::any_of(chain.bands.begin(), chain.bands.end(), [&](const Band& b) { return b.layer == layer; });
    if (!there)
      chain.bands.push_back({name, layer, chain.convolutions[layer].outputs, places[layer].stride,
                             places[layer].receptiveField});
  }
  std::sort(chain.bands.begin(), chain.bands.end(),
            [](const Band& a, const Band& b) { return a.layer < b.layer; });
  return names;
}

// What the file does to its own channels comes behind what is asked; the chain has red, green and blue.
void setInput(Chain& chain, const InputValues& in) {
  const std::array<float, 3> mean = chain.mean;
  const std::array<float, 3> scale = chain.scale;
  for (std::size_t c = 0; c < 3; ++c) {
    const std::size_t own = in.blueFirst ? 2 - c : c;
    chain.scale[c] = scale[own] * in.white / in.deviation[c];
    chain.mean[c] = in.mean[c] / in.white + mean[own] * in.deviation[c] / in.white;
  }
  if (!in.blueFirst) return;
  Convolution& first = chain.convolutions.front();
  const std::size_t area = cellCount(first.kernel, first.kernel);
  for (std::size_t o = 0; o < first.bias.size(); ++o) {
    float* blue = &first.weights[o * 3 * area];
    std::swap_ranges(blue, blue + area, blue + 2 * area);
  }
}

// For each layer the first of those that must be scaled by one number: those whose outputs are added.
std::vector<std::size_t> addedTogether(const Chain& chain) {
  std::vector<std::size_t> first(chain.convolutions.size());
  for (std::size_t i = 0; i < first.size(); ++i) first[i] = i;
  for (std::size_t i = 0; i < first.size(); ++i) {
    const int plus = chain.convolutions[i].plus;
    if (plus < 0) continue;
    const std::size_t from = std::max(first[i], first[plus]);
    const std::size_t to = std::min(first[i], first[plus]);
    std::replace(first.begin(), first.end(), from, to);
  }
  return first;
}

// The mean activation of every layer over the pictures; of those without a ReLU, whose mean says nothing, the
// root of the mean square.
std::vector<double> meansOf(const Chain& chain, const std::vector<SamplePicture>& pictures) {
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
      const std::size_t channels = mean.size();
      double sum = 0;
      if (chain.convolutions[layer].negativeSlope < 1) {
        for (const float m : mean) sum += static_cast<double>(m) / static_cast<double>(channels);
      } else {
        const std::vector<float>& gram = evaluator.gram(layer);
        for (std::size_t c = 0; c < channels; ++c)
          sum += static_cast<double>(gram[c * channels + c]) / static_cast<double>(channels);
        sum = std::sqrt(sum);
      }
      means[layer] += sum / static_cast<double>(pictures.size());
    }
  }
  return means;
}

OnnxConstant perChannel(const std::array<float, 3>& values) {
  return {{1, 3, 1, 1}, {values.begin(), values.end()}};
}

// The mean of those behind a ReLU counts, where there is one.
double meanTogether(const Chain& chain, const std::vector<double>& means,
                    const std::vector<std::size_t>& first, std::size_t group) {
  for (const bool rectified : {true, false}) {
    double sum = 0;
    int count = 0;
    for (std::size_t i = 0; i < means.size(); ++i) {
      if (first[i] != group || (chain.convolutions[i].negativeSlope < 1) != rectified) continue;
      sum += means[i];
      ++count;
    }
    if (count > 0) return sum / count;
  }
  return 0;
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
  ReadLayers read = readLayers(graph, file);
  const std::vector<LayerPlace> places = placesOf(read.chain);
  std::vector<int> style;
  std::vector<int> content;
  for (const std::string& name : settings.style) style.push_back(layerNamed(name, read, places, file));
  for (const std::string& name : settings.content) content.push_back(layerNamed(name, read, places, file));
  if (!settings.input && !read.saysInput)
    throw UsageError(
        fmt::format("{} does not say which colour values it wants: from 0 to 1 or to 255, red or blue "
                    "first, which mean and deviation taken off",
                    file));
  Chain chain = std::move(read.chain);
  setInput(chain, settings.input.value_or(InputValues{}));
  for (std::size_t i = 0; i < chain.convolutions.size(); ++i) {
    Convolution& conv = chain.convolutions[i];
    conv.name = places[i].number;
    if (settings.pooling && conv.pools()) conv.pooling = *settings.pooling;
  }
  chain.styleBands = tapped(chain, style, places);
  chain.contentBands = tapped(chain, content, places);
  chain.convolutions.resize(chain.bands.back().layer + 1);
  if (read.madeWhole > 0)
    chain.notes["padding"] =
        fmt::format("to its size, otherwise than in the file: {} layers", read.madeWhole);
  return chain;
}

void scaleToMeanOne(Chain& chain, const std::vector<SamplePicture>& pictures) {
  const std::vector<double> means = meansOf(chain, pictures);
  const std::vector<std::size_t> first = addedTogether(chain);
  std::vector<double> scales;
  for (std::size_t i = 0; i < means.size(); ++i) {
    Convolution& conv = chain.convolutions[i];
    const double mean = meanTogether(chain, means, first, first[i]);
    if (!(mean > 0) || !std::isfinite(mean))
      throw Error(
          fmt::format("the network's layer {} answers nothing to pictures; are the colour values right "
                      "(0 to 1 or to 255, red or blue first)?",
                      conv.name));
    const int input = inputOf(chain, static_cast<int>(i));
    const double before = input < 0 ? 1 : scales[input];
    scales.push_back(1 / mean);
    for (float& w : conv.weights) w = static_cast<float>(w * scales[i] / before);
    for (float& b : conv.bias) b = static_cast<float>(b * scales[i]);
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
  std::vector<std::string> outputs;
  for (int i = 0; i < countOf(chain.convolutions); ++i) {
    const Convolution& conv = chain.convolutions[i];
    const std::int64_t k = conv.kernel;
    if (const int input = inputOf(chain, i); input >= 0) last = outputs[input];
    if (conv.pools()) {
      const std::int64_t size = conv.window.size;
      const std::int64_t before = conv.window.before;
      // Of windows of 3 an odd last row or column has one of its own.
      const std::int64_t after = size == 2 ? 0 : 2 - before;
      OnnxNode& pool =
          add(conv.pooling == Pooling::maximum ? "MaxPool" : "AveragePool", {last}, "pooled_" + conv.name);
      pool.ints = {{"kernel_shape", {size, size}}, {"strides", {2, 2}}};
      if (size != 2) pool.ints["pads"] = {before, before, after, after};
    }
    graph.constants["weights_" + conv.name] = {{conv.outputs, conv.inputs, k, k}, conv.weights};
    graph.constants["bias_" + conv.name] = {{conv.outputs}, conv.bias};
    const std::int64_t before = conv.before();
    const std::int64_t after = k - 1 - before;
    OnnxNode& node =
        add("Conv", {last, "weights_" + conv.name, "bias_" + conv.name}, "convolved_" + conv.name);
    node.ints = {{"pads", {before, before, after, after}}, {"kernel_shape", {k, k}}};
    if (conv.stride != 1) node.ints["strides"] = {conv.stride, conv.stride};
    if (conv.plus >= 0) add("Add", {last, outputs[conv.plus]}, "sum_" + conv.name);
    const auto tapped = std::find_if(chain.bands.begin(), chain.bands.end(),
                                     [&](const Band& band) { return band.layer == i; });
    const std::string& name = tapped == chain.bands.end() ? conv.name : tapped->name;
    if (conv.negativeSlope <= 0)
      add("Relu", {last}, name);
    else if (conv.negativeSlope < 1)
      add("LeakyRelu", {last}, name).floats["alpha"] = conv.negativeSlope;
    outputs.push_back(last);
  }
  for (const Band& band : chain.bands)
    graph.outputs.push_back(
        {band.name, {"1", std::to_string(band.channels), band.name + "_height", band.name + "_width"}});
  return graph;
}

}  // namespace jugendstil
