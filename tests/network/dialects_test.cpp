// SPDX-License-Identifier: Apache-2.0
// One network in the ways that exporters write it, beside another runtime's reading of the same file.
#include <gtest/gtest.h>

#include <cmath>
#include <functional>

#include "base/error.h"
#include "network/foreign.h"
#include "network/import.h"
#include "network/onnx_file.h"
#include "network/onnx_proto.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using namespace testing_foreign;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

struct Dialect {
  const char* name;
  int opset = 13;
  bool constantsAsNodes = false;   // instead of initialisers
  bool constantsAsInputs = false;  // initialisers are listed as inputs too, as old files do
  bool padsApart = false;          // a Pad before each convolution
  bool padsByName = false;         // auto_pad
  bool normalises = false;         // batch normalisation behind each convolution, which has no bias
  bool rawWeights = false;         // as bytes
};

void PrintTo(const Dialect& dialect, std::ostream* out) { *out << dialect.name; }

// Three layers of a classifier and what remains of its head when it is exported.
class Exported {
 public:
  explicit Exported(const Dialect& dialect) : dialect_(dialect) {
    model.set_ir_version(dialect.opset < 9 ? 3 : 7);
    auto* opset = model.add_opset_import();
    opset->set_domain("");
    opset->set_version(dialect.opset);
    auto* input = graph().add_input();
    input->set_name("data");
    auto* type = input->mutable_type()->mutable_tensor_type();
    type->set_elem_type(onnx::TensorProto::FLOAT);
    for (const int d : {1, 3, 32, 48}) type->mutable_shape()->add_dim()->set_dim_value(d);
    convolve(3, 8, 3);
    pool();
    dropout();
    convolve(8, 12, 3);
    convolve(12, 8, 5);
    auto* output = graph().add_output();
    output->set_name(last_);
    auto* shape = output->mutable_type()->mutable_tensor_type();
    shape->set_elem_type(onnx::TensorProto::FLOAT);
    for (const int d : {1, 8, 16, 24}) shape->mutable_shape()->add_dim()->set_dim_value(d);
  }

  std::string last() const { return last_; }

  onnx::ModelProto model;

 private:
  onnx::GraphProto& graph() { return *model.mutable_graph(); }

  onnx::NodeProto& node(const std::string& op, const std::vector<std::string>& more = {}) {
    auto* made = graph().add_node();
    made->set_op_type(op);
    made->add_input(last_);
    for (const std::string& input : more) made->add_input(input);
    last_ = op + std::to_string(graph().node_size());
    made->set_name(last_);
    made->add_output(last_);
    return *made;
  }

  static void ints(onnx::NodeProto& of, const char* name, const std::vector<std::int64_t>& values) {
    auto* attribute = of.add_attribute();
    attribute->set_name(name);
    attribute->set_type(onnx::AttributeProto::INTS);
    for (const std::int64_t v : values) attribute->add_ints(v);
  }

  static void word(onnx::NodeProto& of, const char* name, const char* value) {
    auto* attribute = of.add_attribute();
    attribute->set_name(name);
    attribute->set_type(onnx::AttributeProto::STRING);
    attribute->set_s(value);
  }

  static void number(onnx::NodeProto& of, const char* name, float value) {
    auto* attribute = of.add_attribute();
    attribute->set_name(name);
    attribute->set_type(onnx::AttributeProto::FLOAT);
    attribute->set_f(value);
  }

  // Where a constant is put, with a name of its own.
  onnx::TensorProto& tensor(std::string& name) {
    name = "constant" + std::to_string(++constants_);
    if (dialect_.constantsAsNodes) {
      auto* made = graph().add_node();
      made->set_op_type("Constant");
      made->add_output(name);
      auto* attribute = made->add_attribute();
      attribute->set_name("value");
      attribute->set_type(onnx::AttributeProto::TENSOR);
      return *attribute->mutable_t();
    }
    auto* made = graph().add_initializer();
    made->set_name(name);
    return *made;
  }

  std::string constant(const std::vector<int>& shape, float middle, float spread) {
    std::string name;
    onnx::TensorProto& made = tensor(name);
    made.set_data_type(onnx::TensorProto::FLOAT);
    int count = 1;
    for (const int d : shape) {
      made.add_dims(d);
      count *= d;
    }
    std::normal_distribution<float> normal(middle, spread);
    std::vector<float> values;
    for (int i = 0; i < count; ++i) values.push_back(normal(random_));
    if (dialect_.rawWeights)
      made.set_raw_data(values.data(), values.size() * sizeof(float));
    else
      for (const float v : values) made.add_float_data(v);
    if (dialect_.constantsAsInputs) {
      auto* input = graph().add_input();
      input->set_name(name);
      auto* type = input->mutable_type()->mutable_tensor_type();
      type->set_elem_type(onnx::TensorProto::FLOAT);
      for (const int d : shape) type->mutable_shape()->add_dim()->set_dim_value(d);
    }
    return name;
  }

  std::string whole(const std::vector<std::int64_t>& values) {
    std::string name;
    onnx::TensorProto& made = tensor(name);
    made.set_data_type(onnx::TensorProto::INT64);
    made.add_dims(static_cast<std::int64_t>(values.size()));
    for (const std::int64_t v : values) made.add_int64_data(v);
    return name;
  }

  void convolve(int inputs, int outputs, int kernel) {
    const std::int64_t k = kernel;
    const std::int64_t half = k / 2;
    if (dialect_.padsApart) {
      const std::vector<std::int64_t> pads{0, 0, half, half, 0, 0, half, half};
      if (dialect_.opset < 11) {
        onnx::NodeProto& pad = node("Pad");
        ints(pad, "pads", pads);
        word(pad, "mode", "constant");
        number(pad, "value", 0);
      } else {
        word(node("Pad", {whole(pads)}), "mode", "constant");
      }
    }
    const float spread = std::sqrt(2.0F / static_cast<float>(inputs * kernel * kernel));
    std::vector<std::string> values{constant({outputs, inputs, kernel, kernel}, 0, spread)};
    if (!dialect_.normalises) values.push_back(constant({outputs}, 0.1F, 0.05F));
    onnx::NodeProto& conv = node("Conv", values);
    ints(conv, "kernel_shape", {k, k});
    ints(conv, "strides", {1, 1});
    if (dialect_.padsByName)
      word(conv, "auto_pad", "SAME_UPPER");
    else if (!dialect_.padsApart)
      ints(conv, "pads", {half, half, half, half});
    if (dialect_.normalises)
      number(node("BatchNormalization", {constant({outputs}, 1, 0.1F), constant({outputs}, 0.1F, 0.1F),
                                         constant({outputs}, 0, 0.1F), constant({outputs}, 1.5F, 0.1F)}),
             "epsilon", 1e-3F);
    node("Relu");
  }

  void pool() {
    onnx::NodeProto& made = node("MaxPool");
    ints(made, "kernel_shape", {2, 2});
    ints(made, "strides", {2, 2});
    if (dialect_.padsByName) word(made, "auto_pad", "VALID");
  }

  void dropout() {
    onnx::NodeProto& made = node("Dropout");
    if (dialect_.opset < 12) number(made, "ratio", 0.5F);
  }

  Dialect dialect_;
  std::mt19937 random_{7};
  std::string last_ = "data";
  int constants_ = 0;
};

class Dialects : public testing::TestWithParam<Dialect> {};

TEST_P(Dialects, AreReadAsAnotherRuntimeReadsThem) {
  const TemporaryFolder folder;
  const Exported exported(GetParam());
  writeContent(folder / "exported.onnx", exported.model.SerializeAsString());
  const Chain chain = importedChain(readOnnxGraph(folder / "exported.onnx"), "exported.onnx",
                                    {{"1_1", "2_1"}, {"2_2"}, {}, kBytes});
  EXPECT_EQ(chain.notes.count("padding"), 0U);
  const SamplePicture p = picture(48, 32);
  EXPECT_LT(apart(bandOf(chain, p, "2_2"), elsewhere(folder / "exported.onnx", p, kBytes)), 1e-4);
}

INSTANTIATE_TEST_SUITE_P(Exporters, Dialects,
                         testing::Values(Dialect{"opset7", 7, false, true},
                                         Dialect{"opset9", 9, false, false, true},
                                         Dialect{"opset11", 11, true, false, true, false, true},
                                         Dialect{"opset12", 12, false, false, false, true, false, true},
                                         Dialect{"opset13", 13, false, false, false, false, true, true},
                                         Dialect{"opset15", 15, true, false, false, false, false, true},
                                         Dialect{"opset17", 17, false, false, false, true, true}),
                         [](const auto& info) { return std::string(info.param.name); });

// As large as the format can be and larger, nearly all of it a hole on the disk.
TEST(Dialects, AFileOfMoreThanTwoGigabytesIsRefusedBeforeItIsRead) {
  const TemporaryFolder folder;
  for (const std::uintmax_t size : {std::uintmax_t{1} << 31, std::uintmax_t{5} << 30}) {
    writeContent(folder / "huge.onnx", Exported({"plain"}).model.SerializeAsString());
    std::filesystem::resize_file(folder / "huge.onnx", size);
    try {
      readOnnxGraph(folder / "huge.onnx");
      FAIL();
    } catch (const Error& e) {
      EXPECT_NE(std::string(e.what()).find("huge.onnx"), std::string::npos) << e.what();
    }
  }
}

}  // namespace
}  // namespace jugendstil
