// SPDX-License-Identifier: Apache-2.0
#include "network/packed_graph.h"

#include <map>
#include <vector>

#include "base/error.h"
#include "helper/packing.h"

namespace jugendstil {
namespace {

constexpr std::uint64_t kMostValues = std::uint64_t{1} << 27;  // of one constant

void pack(Packer& to, const std::vector<std::string>& texts) {
  to.value<std::uint64_t>(texts.size());
  for (const std::string& text : texts) to.text(text);
}

std::vector<std::string> unpackedTexts(Unpacker& from) {
  std::vector<std::string> texts;
  for (auto left = from.value<std::uint64_t>(); left > 0; --left) texts.push_back(from.text());
  return texts;
}

template <typename T, typename Put>
void packMap(Packer& to, const std::map<std::string, T>& values, const Put& put) {
  to.value<std::uint64_t>(values.size());
  for (const auto& [name, value] : values) {
    to.text(name);
    put(value);
  }
}

template <typename T, typename Take>
void unpackMap(Unpacker& from, std::map<std::string, T>& values, const Take& take) {
  for (auto left = from.value<std::uint64_t>(); left > 0; --left) {
    const std::string name = from.text();
    values[name] = take();
  }
}

void pack(Packer& to, const std::vector<OnnxPicture>& pictures) {
  to.value<std::uint64_t>(pictures.size());
  for (const OnnxPicture& picture : pictures) {
    to.text(picture.name);
    pack(to, picture.shape);
  }
}

std::vector<OnnxPicture> unpackedPictures(Unpacker& from) {
  std::vector<OnnxPicture> pictures;
  for (auto left = from.value<std::uint64_t>(); left > 0; --left) {
    const std::string name = from.text();
    pictures.push_back({name, unpackedTexts(from)});
  }
  return pictures;
}

void pack(Packer& to, const OnnxNode& node) {
  to.text(node.op);
  to.text(node.name);
  pack(to, node.inputs);
  pack(to, node.outputs);
  packMap(to, node.ints, [&](const std::vector<std::int64_t>& values) { to.values(values); });
  packMap(to, node.floats, [&](float value) { to.value(value); });
  packMap(to, node.strings, [&](const std::string& text) { to.text(text); });
}

OnnxNode unpackedNode(Unpacker& from) {
  OnnxNode node;
  node.op = from.text();
  node.name = from.text();
  node.inputs = unpackedTexts(from);
  node.outputs = unpackedTexts(from);
  unpackMap(from, node.ints, [&] { return from.values<std::int64_t>(); });
  unpackMap(from, node.floats, [&] { return from.value<float>(); });
  unpackMap(from, node.strings, [&] { return from.text(); });
  return node;
}

}  // namespace

std::string packed(const OnnxGraph& graph) {
  Packer to;
  to.text(graph.name);
  pack(to, graph.inputs);
  pack(to, graph.outputs);
  to.value<std::uint64_t>(graph.nodes.size());
  for (const OnnxNode& node : graph.nodes) pack(to, node);
  packMap(to, graph.constants, [&](const OnnxConstant& constant) {
    to.values(constant.shape);
    to.value<std::uint64_t>(constant.values.size());
  });
  packMap(to, graph.metadata, [&](const std::string& text) { to.text(text); });
  to.text(graph.checksum);
  return to.bytes();
}

OnnxGraph unpackedGraph(const std::string& bytes) {
  Unpacker from(bytes);
  OnnxGraph graph;
  graph.name = from.text();
  graph.inputs = unpackedPictures(from);
  graph.outputs = unpackedPictures(from);
  for (auto left = from.value<std::uint64_t>(); left > 0; --left) graph.nodes.push_back(unpackedNode(from));
  unpackMap(from, graph.constants, [&] {
    OnnxConstant constant;
    constant.shape = from.values<std::int64_t>();
    const auto count = from.value<std::uint64_t>();
    if (count > kMostValues) throw Error("a network's weights are too many");
    constant.values.resize(count);
    return constant;
  });
  unpackMap(from, graph.metadata, [&] { return from.text(); });
  graph.checksum = from.text();
  return graph;
}

}  // namespace jugendstil
