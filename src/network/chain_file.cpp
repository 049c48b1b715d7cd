// SPDX-License-Identifier: Apache-2.0
#include "network/chain_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <sstream>

#include "base/error.h"
#include "network/layer_reader.h"
#include "network/onnx_file.h"
#include "network/places.h"

namespace jugendstil {
namespace {

constexpr const char* kStyleBands = "style_bands";
constexpr const char* kContentBands = "content_bands";

std::vector<std::string> listed(const OnnxGraph& graph, const char* key) {
  std::vector<std::string> names;
  const auto found = graph.metadata.find(key);
  if (found == graph.metadata.end()) return names;
  std::istringstream stream(found->second);
  for (std::string name; std::getline(stream, name, ',');) names.push_back(name);
  return names;
}

// The first of its outputs that is no band.
const OnnxPicture* bareOutput(const OnnxGraph& graph, const ReadLayers& read) {
  const auto bare = std::find_if(graph.outputs.begin(), graph.outputs.end(), [&](const OnnxPicture& output) {
    return read.rectified.count(output.name) == 0;
  });
  return bare == graph.outputs.end() ? nullptr : &*bare;
}

bool tapsBands(const OnnxGraph& graph, const ReadLayers& read) {
  return !graph.outputs.empty() && bareOutput(graph, read) == nullptr;
}

[[noreturn]] void refuseOutputs(const OnnxGraph& graph, const ReadLayers& read, const std::string& file) {
  if (graph.outputs.empty()) throw Error(fmt::format("{}: has no outputs to tap as bands", file));
  if (read.refused.empty())
    throw Error(fmt::format("{}: its output {} is not behind a Relu", file, bareOutput(graph, read)->name));
  throw Error(
      fmt::format("{}; a network from elsewhere has to be brought into this one's form first", read.refused));
}

// The graph's outputs are its bands, and its metadata says what for.
Chain withBands(const OnnxGraph& graph, ReadLayers read) {
  const std::vector<LayerPlace> places = placesOf(read.chain);
  Chain chain = std::move(read.chain);
  for (const OnnxPicture& output : graph.outputs) {
    const int layer = read.rectified.at(output.name);
    chain.bands.push_back({output.name, layer, chain.convolutions[layer].outputs, places[layer].stride,
                           places[layer].receptiveField});
  }
  chain.notes = graph.metadata;
  for (const char* told : {kStyleBands, kContentBands, "receptive_field"}) chain.notes.erase(told);
  chain.styleBands = listed(graph, kStyleBands);
  chain.contentBands = listed(graph, kContentBands);
  if (chain.styleBands.empty()) {
    for (const Band& band : chain.bands) chain.styleBands.push_back(band.name);
  }
  if (chain.contentBands.empty()) chain.contentBands.push_back(chain.bands.back().name);
  for (const auto* names : {&chain.styleBands, &chain.contentBands}) {
    for (const std::string& name : *names) chain.bandIndex(name);
  }
  return chain;
}

}  // namespace

Chain readOnnx(const std::filesystem::path& path) {
  const OnnxGraph graph = readOnnxGraph(path);
  ReadLayers read = readLayers(graph, path.string());
  if (!tapsBands(graph, read)) refuseOutputs(graph, read, path.string());
  return withBands(graph, std::move(read));
}

Chain readAnyOnnx(const std::filesystem::path& path) {
  const OnnxGraph graph = readOnnxGraph(path);
  ReadLayers read = readLayers(graph, path.string());
  if (tapsBands(graph, read)) return withBands(graph, std::move(read));
  if (read.chain.convolutions.empty()) refuseOutputs(graph, read, path.string());
  Chain chain = std::move(read.chain);
  chain.notes = graph.metadata;
  if (!read.refused.empty()) chain.notes["not taken"] = read.refused;
  if (!read.saysInput) chain.notes["input"] = "the file does not say which values it wants";
  return chain;
}

}  // namespace jugendstil
