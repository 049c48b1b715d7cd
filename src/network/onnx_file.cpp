// SPDX-License-Identifier: Apache-2.0
#include "network/onnx_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <limits>
#include <span>

#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wconversion"
#pragma GCC diagnostic ignored "-Wpedantic"
#define ONNX_NAMESPACE onnx
#define ONNX_ML 1
#include <onnx/onnx_pb.h>
#pragma GCC diagnostic pop

#include "base/atomic_file.h"
#include "base/checksum.h"
#include "base/error.h"
#include "base/file.h"
#include "helper/helper.h"
#include "network/packed_graph.h"

namespace jugendstil {
namespace {

constexpr std::size_t kMaxFileBytes = std::size_t{1} << 30;
constexpr std::size_t kMostCopied = std::size_t{1} << 27;  // values
constexpr std::int64_t kMaxValues = std::int64_t{1} << 27;
constexpr int kOpset = 13;
constexpr int kIrVersion = 7;  // that came with the opset

// So large whole numbers are exact as 32-bit floats.
constexpr std::int64_t kMostExact = std::int64_t{1} << 24;

// Weights that lie in other files beside the network's, each read once.
class FilesBeside {
 public:
  explicit FilesBeside(std::filesystem::path network) : network_(std::move(network)) {}

  // Of a tensor; empty where its file is too short. Throws Error where it names a place outside the folder.
  std::string bytesOf(const onnx::TensorProto& tensor) {
    std::string location;
    std::uint64_t offset = 0;
    std::uint64_t length = std::string::npos;
    for (const auto& entry : tensor.external_data()) {
      if (entry.key() == "location") location = entry.value();
      if (entry.key() == "offset") offset = std::strtoull(entry.value().c_str(), nullptr, 10);
      if (entry.key() == "length") length = std::strtoull(entry.value().c_str(), nullptr, 10);
    }
    const std::string& all = contentOf(location);
    return offset > all.size() ? std::string() : all.substr(offset, length);
  }

 private:
  const std::string& contentOf(const std::string& location) {
    const auto known = contents_.find(location);
    if (known != contents_.end()) return known->second;
    const std::filesystem::path name(location);
    const std::filesystem::path folder = network_.parent_path();
    // No folders at all, and no link that leads out of this one.
    if (name.empty() || name.has_parent_path() || name == ".." || std::filesystem::is_symlink(folder / name))
      throw Error(
          fmt::format("{}: its weights lie in \"{}\", which is no file beside it; put both into one folder",
                      network_.string(), location));
    return contents_.emplace(location, readFile(folder / name, kMaxFileBytes)).first->second;
  }

  std::filesystem::path network_;
  std::map<std::string, std::string> contents_;
};

// A number of 16 bits: a sign, five bits of exponent, ten of fraction.
float fromHalf(std::uint16_t bits) {
  const float sign = (bits & 0x8000U) != 0 ? -1.0F : 1.0F;
  const int exponent = bits >> 10 & 0x1F;
  const auto fraction = static_cast<float>(bits & 0x3FFU);
  if (exponent == 0x1F)
    return std::numeric_limits<float>::quiet_NaN();  // what is infinite is refused as well
  return sign * (exponent == 0 ? std::ldexp(fraction, -24) : std::ldexp(1024 + fraction, exponent - 25));
}

// As many values as the shape says, out of either of the places where the format has them.
template <typename Stored, typename Listed>
std::vector<Stored> storedValues(const std::string& raw, const Listed& listed, std::size_t count) {
  std::vector<Stored> values(count);
  if (raw.size() == count * sizeof(Stored))
    std::memcpy(values.data(), raw.data(), raw.size());
  else if (static_cast<std::size_t>(listed.size()) == count)
    std::copy(listed.begin(), listed.end(), values.begin());
  else
    values.clear();
  return values;
}

OnnxConstant constantOf(const onnx::TensorProto& tensor, const std::string& name, const std::string& file,
                        FilesBeside& beside) {
  const auto fail = [&](const char* why) {
    throw Error(fmt::format("{}: the weights {} {}", file, name, why));
  };
  OnnxConstant constant;
  std::int64_t count = 1;
  for (const std::int64_t d : tensor.dims()) {
    if (d < (tensor.dims_size() == 1 ? 0 : 1) || d > kMaxValues) fail("have an impossible shape");
    count *= d;
    if (count > kMaxValues) fail("are too large");
    constant.shape.push_back(d);
  }
  const auto type = tensor.data_type();
  std::string elsewhere;
  if (tensor.data_location() == onnx::TensorProto::EXTERNAL) elsewhere = beside.bytesOf(tensor);
  const std::string& raw = elsewhere.empty() ? tensor.raw_data() : elsewhere;
  const std::size_t n = count;
  if (type == onnx::TensorProto::INT64) {
    for (const std::int64_t v : storedValues<std::int64_t>(raw, tensor.int64_data(), n)) {
      if (v < -kMostExact || v > kMostExact) fail("hold whole numbers that are too large");
      constant.values.push_back(static_cast<float>(v));
    }
  } else if (type == onnx::TensorProto::FLOAT) {
    constant.values = storedValues<float>(raw, tensor.float_data(), n);
  } else if (type == onnx::TensorProto::FLOAT16) {
    for (const std::uint16_t v : storedValues<std::uint16_t>(raw, tensor.int32_data(), n))
      constant.values.push_back(fromHalf(v));
  } else if (type == onnx::TensorProto::DOUBLE) {
    for (const double v : storedValues<double>(raw, tensor.double_data(), n))
      constant.values.push_back(static_cast<float>(v));
  } else {
    fail("are neither floating-point nor 64-bit whole numbers");
  }
  if (constant.values.size() != n)
    fail("have fewer or more values than their shape says; the file is damaged");
  if (!std::all_of(constant.values.begin(), constant.values.end(), [](float v) { return std::isfinite(v); }))
    fail("hold values that are not numbers");
  return constant;
}

// The value of a node that gives nothing else.
const onnx::TensorProto* constantIn(const onnx::NodeProto& node) {
  if (node.op_type() != "Constant" || node.output_size() != 1) return nullptr;
  for (const auto& a : node.attribute()) {
    if (a.name() == "value" && a.type() == onnx::AttributeProto::TENSOR) return &a.t();
  }
  return nullptr;
}

OnnxNode nodeOf(const onnx::NodeProto& from) {
  OnnxNode node{from.op_type(),
                from.name(),
                {from.input().begin(), from.input().end()},
                {from.output().begin(), from.output().end()},
                {},
                {},
                {}};
  for (const auto& a : from.attribute()) {
    switch (a.type()) {
      case onnx::AttributeProto::INT:
        node.ints[a.name()] = {a.i()};
        break;
      case onnx::AttributeProto::INTS:
        node.ints[a.name()] = {a.ints().begin(), a.ints().end()};
        break;
      case onnx::AttributeProto::FLOAT:
        node.floats[a.name()] = a.f();
        break;
      case onnx::AttributeProto::STRING:
        node.strings[a.name()] = a.s();
        break;
      default:
        break;
    }
  }
  return node;
}

OnnxPicture pictureOf(const onnx::ValueInfoProto& from) {
  OnnxPicture picture{from.name(), {}};
  for (const auto& d : from.type().tensor_type().shape().dim())
    picture.shape.push_back(d.has_dim_value() ? std::to_string(d.dim_value()) : d.dim_param());
  return picture;
}

void put(onnx::TensorProto& to, const std::string& name, const OnnxConstant& constant) {
  to.set_name(name);
  to.set_data_type(onnx::TensorProto::FLOAT);
  for (const std::int64_t d : constant.shape) to.add_dims(d);
  to.set_raw_data(constant.values.data(), constant.values.size() * sizeof(float));
}

void put(onnx::NodeProto& to, const OnnxNode& node) {
  to.set_op_type(node.op);
  to.set_name(node.name);
  for (const std::string& input : node.inputs) to.add_input(input);
  for (const std::string& output : node.outputs) to.add_output(output);
  const auto attribute = [&](const std::string& name, onnx::AttributeProto::AttributeType type) {
    onnx::AttributeProto* a = to.add_attribute();
    a->set_name(name);
    a->set_type(type);
    return a;
  };
  for (const auto& [name, values] : node.ints) {
    // One number is an axis or a count, which stand alone.
    if (values.size() == 1) {
      attribute(name, onnx::AttributeProto::INT)->set_i(values.front());
    } else {
      onnx::AttributeProto* a = attribute(name, onnx::AttributeProto::INTS);
      for (const std::int64_t v : values) a->add_ints(v);
    }
  }
  for (const auto& [name, value] : node.floats) attribute(name, onnx::AttributeProto::FLOAT)->set_f(value);
  for (const auto& [name, text] : node.strings) attribute(name, onnx::AttributeProto::STRING)->set_s(text);
}

void put(onnx::ValueInfoProto& to, const OnnxPicture& picture) {
  to.set_name(picture.name);
  auto* tensor = to.mutable_type()->mutable_tensor_type();
  tensor->set_elem_type(onnx::TensorProto::FLOAT);
  for (const std::string& side : picture.shape) {
    auto* d = tensor->mutable_shape()->add_dim();
    if (side.find_first_not_of("0123456789") == std::string::npos)
      d->set_dim_value(std::stoll(side));
    else
      d->set_dim_param(side);
  }
}

// In this process.
OnnxGraph parsedGraph(const std::filesystem::path& path) {
  const std::string file = path.string();
  const std::string bytes = readFile(path, kMaxFileBytes);
  onnx::ModelProto model;
  if (bytes.empty() || !model.ParseFromString(bytes) || !model.has_graph() ||
      model.graph().node_size() == 0) {
    throw Error(fmt::format("{}: is not an ONNX network, or is truncated", file));
  }
  OnnxGraph graph;
  graph.name = model.graph().name();
  graph.checksum = checksum(bytes);
  for (const auto& entry : model.metadata_props()) graph.metadata[entry.key()] = entry.value();
  FilesBeside beside(path);
  for (const auto& tensor : model.graph().initializer())
    graph.constants[tensor.name()] = constantOf(tensor, tensor.name(), file, beside);
  for (const auto& input : model.graph().input()) {
    if (graph.constants.count(input.name()) == 0) graph.inputs.push_back(pictureOf(input));
  }
  for (const auto& output : model.graph().output()) graph.outputs.push_back(pictureOf(output));
  std::size_t copied = 0;
  for (const auto& node : model.graph().node()) {
    // What two layers share some exporters store once, and give a second name.
    const auto shared = node.op_type() == "Identity" && node.input_size() == 1 && node.output_size() == 1
                            ? graph.constants.find(node.input(0))
                            : graph.constants.end();
    if (shared != graph.constants.end()) {
      copied += shared->second.values.size();
      if (copied > kMostCopied) throw Error(fmt::format("{}: gives its weights too many names", file));
      graph.constants[node.output(0)] = OnnxConstant(shared->second);
    } else if (const auto* value = constantIn(node); value != nullptr) {
      graph.constants[node.output(0)] = constantOf(*value, node.output(0), file, beside);
    } else {
      graph.nodes.push_back(nodeOf(node));
    }
  }
  return graph;
}

// The work of the helper.
void parseGraph(Asker& asker) {
  const OnnxGraph graph = parsedGraph(asker.next());
  asker.answer(packed(graph));
  for (const auto& [name, constant] : graph.constants)
    asker.answer(
        {reinterpret_cast<const char*>(constant.values.data()), constant.values.size() * sizeof(float)});
}

}  // namespace

OnnxGraph readOnnxGraph(const std::filesystem::path& path) {
  const std::string file = path.string();
  Helper helper(parseGraph, file);
  std::error_code code;
  const auto size = std::filesystem::file_size(path, code);
  helper.allow(patienceFor(code ? 0 : size));
  helper.ask(file);
  OnnxGraph graph = unpackedGraph(helper.answer());
  for (auto& [name, constant] : graph.constants) {
    const auto to = std::as_writable_bytes(std::span(constant.values));
    if (helper.answerPart(to) != to.size()) throw Error(fmt::format("{}: is truncated", file));
  }
  return graph;
}

void writeOnnxGraph(const std::filesystem::path& path, const OnnxGraph& graph) {
  onnx::ModelProto model;
  model.set_ir_version(kIrVersion);
  model.set_producer_name("jugendstil");
  model.add_opset_import()->set_version(kOpset);
  onnx::GraphProto& to = *model.mutable_graph();
  to.set_name(graph.name);
  for (const OnnxPicture& picture : graph.inputs) put(*to.add_input(), picture);
  for (const OnnxPicture& picture : graph.outputs) put(*to.add_output(), picture);
  for (const OnnxNode& node : graph.nodes) put(*to.add_node(), node);
  for (const auto& [name, constant] : graph.constants) put(*to.add_initializer(), name, constant);
  for (const auto& [key, value] : graph.metadata) {
    auto* entry = model.add_metadata_props();
    entry->set_key(key);
    entry->set_value(value);
  }
  writeFileAtomically(path, model.SerializeAsString());
}

}  // namespace jugendstil
