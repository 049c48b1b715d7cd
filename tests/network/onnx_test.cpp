// SPDX-License-Identifier: Apache-2.0
#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "network/chain_file.h"
#include "network/onnx_proto.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::TemporaryFolder;
using testing_support::writeContent;

void addConstant(onnx::GraphProto& graph, const std::string& name, const std::vector<int>& shape,
                 float value) {
  auto* tensor = graph.add_initializer();
  tensor->set_name(name);
  tensor->set_data_type(onnx::TensorProto::FLOAT);
  int count = 1;
  for (const int d : shape) {
    tensor->add_dims(d);
    count *= d;
  }
  for (int i = 0; i < count; ++i) tensor->add_float_data(value);
}

onnx::NodeProto* addNode(onnx::GraphProto& graph, const std::string& op,
                         const std::vector<std::string>& inputs, const std::string& output) {
  auto* node = graph.add_node();
  node->set_op_type(op);
  for (const auto& input : inputs) node->add_input(input);
  node->add_output(output);
  return node;
}

void addInts(onnx::NodeProto* node, const std::string& name, const std::vector<int>& values) {
  auto* a = node->add_attribute();
  a->set_name(name);
  a->set_type(onnx::AttributeProto::INTS);
  for (const int v : values) a->add_ints(v);
}

// Sub, Conv, Relu, AveragePool, Conv, Relu with outputs first and second.
onnx::ModelProto model() {
  onnx::ModelProto m;
  m.set_ir_version(7);
  auto& g = *m.mutable_graph();
  g.set_name("tiny");
  g.add_input()->set_name("image");
  addConstant(g, "mean", {1, 3, 1, 1}, 0.5F);
  addConstant(g, "w1", {4, 3, 3, 3}, 0.1F);
  addConstant(g, "b1", {4}, 0.2F);
  addConstant(g, "w2", {5, 4, 3, 3}, 0.1F);
  addConstant(g, "b2", {5}, 0.2F);
  addNode(g, "Sub", {"image", "mean"}, "centred");
  addInts(addNode(g, "Conv", {"centred", "w1", "b1"}, "c1"), "pads", {1, 1, 1, 1});
  addNode(g, "Relu", {"c1"}, "first");
  auto* pool = addNode(g, "AveragePool", {"first"}, "p1");
  addInts(pool, "kernel_shape", {2, 2});
  addInts(pool, "strides", {2, 2});
  addInts(addNode(g, "Conv", {"p1", "w2", "b2"}, "c2"), "pads", {1, 1, 1, 1});
  addNode(g, "Relu", {"c2"}, "second");
  g.add_output()->set_name("first");
  g.add_output()->set_name("second");
  return m;
}

Chain load(const onnx::ModelProto& m) {
  const TemporaryFolder folder;
  writeContent(folder / "m.onnx", m.SerializeAsString());
  return readOnnx(folder / "m.onnx");
}

std::string refusal(const onnx::ModelProto& m) {
  try {
    load(m);
  } catch (const Error& e) {
    return e.what();
  }
  return "accepted";
}

TEST(Onnx, ReadsAChain) {
  const Chain chain = load(model());
  ASSERT_EQ(chain.convolutions.size(), 2U);
  EXPECT_EQ(chain.convolutions[1].pooling, Pooling::average);
  EXPECT_EQ(chain.bands[1].channels, 5);
  EXPECT_EQ(chain.bands[1].stride, 2);
  EXPECT_EQ(chain.bands[1].receptiveField, 8);
  EXPECT_FLOAT_EQ(chain.mean[2], 0.5F);
  EXPECT_EQ(chain.styleBands.size(), 2U);
  EXPECT_EQ(chain.contentBands[0], "second");
}

TEST(Onnx, PoolsByTheLargestAsWell) {
  onnx::ModelProto m = model();
  m.mutable_graph()->mutable_node(3)->set_op_type("MaxPool");
  EXPECT_EQ(load(m).convolutions[1].pooling, Pooling::maximum);
}

TEST(Onnx, ReadsTheShippedNetworkAsItsReadmeSays) {
  const Chain chain = testing_support::filigree();
  EXPECT_EQ(chain.convolutions.size(), 12U);
  const struct {
    const char* name;
    int channels, stride, field;
  } expected[] = {{"fine", 32, 1, 5},    {"small", 64, 2, 14},    {"medium", 128, 4, 40},
                  {"broad", 256, 8, 92}, {"large", 256, 16, 164}, {"subject", 256, 8, 76}};
  for (const auto& e : expected) {
    const Band& band = chain.bands[chain.bandIndex(e.name)];
    EXPECT_EQ(band.channels, e.channels) << e.name;
    EXPECT_EQ(band.stride, e.stride) << e.name;
    EXPECT_EQ(band.receptiveField, e.field) << e.name;
  }
  EXPECT_EQ(chain.contentBands, std::vector<std::string>{"subject"});
  EXPECT_FLOAT_EQ(chain.scale[0], 4.0F);
  EXPECT_EQ(chain.checksum.size(), 40U);
}

TEST(Onnx, NamesTheFirstOperatorThatDoesNotFit) {
  auto m = model();
  m.mutable_graph()->mutable_node(3)->set_op_type("LpPool");
  EXPECT_NE(refusal(m).find("LpPool (p1)"), std::string::npos) << refusal(m);
}

TEST(Onnx, RefusesWhatItCannotRun) {
  auto strided = model();
  addInts(strided.mutable_graph()->mutable_node(1), "strides", {3, 3});
  EXPECT_NE(refusal(strided).find("strides are 3,3"), std::string::npos) << refusal(strided);
  auto cycle = model();
  cycle.mutable_graph()->mutable_node(1)->set_input(0, "second");
  EXPECT_NE(refusal(cycle), "accepted");
  auto bare = model();
  bare.mutable_graph()->mutable_output(1)->set_name("c2");
  EXPECT_NE(refusal(bare).find("not behind a Relu"), std::string::npos) << refusal(bare);
}

TEST(Onnx, RefusesHostileWeights) {
  auto negative = model();
  negative.mutable_graph()->mutable_initializer(1)->set_dims(0, -4);
  EXPECT_NE(refusal(negative).find("impossible shape"), std::string::npos);
  auto overflow = model();
  for (int d = 0; d < 4; ++d) overflow.mutable_graph()->mutable_initializer(1)->set_dims(d, 100000000);
  EXPECT_NE(refusal(overflow).find("too large"), std::string::npos);
  auto shortage = model();
  shortage.mutable_graph()->mutable_initializer(1)->set_dims(0, 400);
  EXPECT_NE(refusal(shortage).find("fewer or more values"), std::string::npos);
  auto nan = model();
  nan.mutable_graph()->mutable_initializer(1)->set_float_data(3, std::nanf(""));
  EXPECT_NE(refusal(nan).find("not numbers"), std::string::npos);
  auto mismatch = model();
  mismatch.mutable_graph()->mutable_initializer(3)->set_dims(1, 2);
  mismatch.mutable_graph()->mutable_initializer(3)->set_dims(0, 10);
  EXPECT_NE(refusal(mismatch).find("do not take 4 channels"), std::string::npos) << refusal(mismatch);
}

// Says that a tensor's values lie in another file.
void putElsewhere(onnx::TensorProto& tensor, const std::string& location, std::size_t offset) {
  tensor.clear_float_data();
  tensor.set_data_location(onnx::TensorProto::EXTERNAL);
  const auto say = [&](const char* key, const std::string& value) {
    auto* entry = tensor.add_external_data();
    entry->set_key(key);
    entry->set_value(value);
  };
  say("location", location);
  say("offset", std::to_string(offset));
  say("length", "16");
}

TEST(Onnx, WeightsMayLieInAFileBesideIt) {
  const TemporaryFolder folder;
  const float bias[] = {0.25F, 0.5F, 0.75F, 1.0F};
  std::string bytes(8, 'x');
  bytes.append(reinterpret_cast<const char*>(bias), sizeof bias);
  writeContent(folder / "weights.bin", bytes);
  const auto with = [&](const std::string& location, std::size_t offset) {
    auto m = model();
    putElsewhere(*m.mutable_graph()->mutable_initializer(2), location, offset);
    writeContent(folder / "m.onnx", m.SerializeAsString());
    try {
      const Chain chain = readOnnx(folder / "m.onnx");
      return std::to_string(chain.convolutions[0].bias[2]);
    } catch (const Error& e) {
      return std::string(e.what());
    }
  };
  EXPECT_EQ(with("weights.bin", 8), "0.750000");
  EXPECT_NE(with("weights.bin", 12).find("fewer or more values"), std::string::npos);
  EXPECT_NE(with("weights.bin", 4000).find("fewer or more values"), std::string::npos);
  EXPECT_NE(with("none.bin", 8).find("none.bin"), std::string::npos);
  writeContent(folder.path.parent_path() / "outside.bin", bytes);
  std::filesystem::create_symlink(folder.path.parent_path() / "outside.bin", folder / "link.bin");
  for (const std::string& location :
       {std::string("../outside.bin"), (folder.path.parent_path() / "outside.bin").string(),
        std::string(".."), std::string("link.bin"), std::string()}) {
    EXPECT_NE(with(location, 8).find("no file beside it"), std::string::npos)
        << location << with(location, 8);
  }
  std::filesystem::remove(folder.path.parent_path() / "outside.bin");
}

TEST(Onnx, ReadsHalvesAndDoubles) {
  auto halves = model();
  auto* bias = halves.mutable_graph()->mutable_initializer(2);
  bias->clear_float_data();
  bias->set_data_type(onnx::TensorProto::FLOAT16);
  for (const int bits : {0x3C00, 0xC000, 0x3555, 0x0001}) bias->add_int32_data(bits);
  const Chain chain = load(halves);
  EXPECT_EQ(chain.convolutions[0].bias[0], 1.0F);
  EXPECT_EQ(chain.convolutions[0].bias[1], -2.0F);
  EXPECT_NEAR(chain.convolutions[0].bias[2], 1.0 / 3, 1e-4);
  EXPECT_EQ(chain.convolutions[0].bias[3], std::ldexp(1.0F, -24));
  bias->set_int32_data(0, 0x7C00);
  EXPECT_NE(refusal(halves).find("not numbers"), std::string::npos) << "infinite";
  auto doubles = model();
  bias = doubles.mutable_graph()->mutable_initializer(2);
  bias->clear_float_data();
  bias->set_data_type(onnx::TensorProto::DOUBLE);
  for (const double v : {0.1, 0.2, 0.3, 0.4}) bias->add_double_data(v);
  EXPECT_EQ(load(doubles).convolutions[0].bias[3], 0.4F);
}

TEST(Onnx, RefusesTruncatedAndForeignFiles) {
  const TemporaryFolder folder;
  const std::string whole =
      testing_support::contentOf(testing_support::sourceFolder() / "networks" / "filigree.onnx");
  for (const std::size_t size :
       {std::size_t{0}, std::size_t{1}, std::size_t{200}, whole.size() / 2, whole.size() - 1}) {
    writeContent(folder / "cut.onnx", whole.substr(0, size));
    EXPECT_THROW(readOnnx(folder / "cut.onnx"), Error) << size;
  }
  writeContent(folder / "text.onnx", "hello");
  EXPECT_THROW(readOnnx(folder / "text.onnx"), Error);
  EXPECT_THROW(readOnnx(folder / "none.onnx"), Error);
}

TEST(Onnx, UnknownBandListsTheBands) {
  try {
    load(model()).bandIndex("third");
    FAIL();
  } catch (const UsageError& e) {
    EXPECT_NE(std::string(e.what()).find("first, second"), std::string::npos);
  }
}

}  // namespace
}  // namespace jugendstil
