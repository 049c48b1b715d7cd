// SPDX-License-Identifier: Apache-2.0
#include <gtest/gtest.h>

#include "network/onnx_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::refusal;
using testing_support::TemporaryFolder;

OnnxGraph graph() {
  OnnxGraph g;
  g.name = "small";
  g.inputs = {{"picture", {"1", "3", "height", "width"}}};
  g.outputs = {{"out", {"1", "2", "height", "width"}}};
  g.constants = {{"w", {{2, 3, 1, 1}, {1, 2, 3, 4, 5, -6}}}, {"half", {{}, {0.5F}}}};
  OnnxNode conv{"Conv", "first", {"picture", "w"}, {"middle"}, {}, {}, {}};
  conv.ints = {{"strides", {1, 1}}, {"group", {1}}};
  conv.strings = {{"auto_pad", "NOTSET"}};
  OnnxNode leaky{"LeakyRelu", "second", {"middle"}, {"out"}, {}, {{"alpha", 0.25F}}, {}};
  g.nodes = {conv, leaky};
  g.metadata = {{"licence", "none"}, {"seed", "4"}};
  return g;
}

TEST(OnnxGraph, ComesBackAsItWas) {
  const TemporaryFolder folder;
  writeOnnxGraph(folder / "g.onnx", graph());
  const OnnxGraph back = readOnnxGraph(folder / "g.onnx");
  EXPECT_EQ(back.name, "small");
  ASSERT_EQ(back.inputs.size(), 1U);
  EXPECT_EQ(back.inputs[0].shape, graph().inputs[0].shape);
  EXPECT_EQ(back.outputs[0].name, "out");
  EXPECT_EQ(back.constants.at("w").shape, graph().constants["w"].shape);
  EXPECT_EQ(back.constants.at("w").values, graph().constants["w"].values);
  EXPECT_TRUE(back.constants.at("half").shape.empty());
  ASSERT_EQ(back.nodes.size(), 2U);
  EXPECT_EQ(back.nodes[0].ints, graph().nodes[0].ints);
  EXPECT_EQ(back.nodes[0].strings, graph().nodes[0].strings);
  EXPECT_EQ(back.nodes[1].floats, graph().nodes[1].floats);
  EXPECT_EQ(back.nodes[1].inputs, std::vector<std::string>{"middle"});
  EXPECT_EQ(back.metadata, graph().metadata);
  EXPECT_EQ(back.checksum.size(), 40U);
}

TEST(OnnxGraph, EqualGraphsGiveEqualBytes) {
  const TemporaryFolder folder;
  writeOnnxGraph(folder / "a.onnx", graph());
  writeOnnxGraph(folder / "b.onnx", readOnnxGraph(folder / "a.onnx"));
  EXPECT_EQ(contentOf(folder / "a.onnx"), contentOf(folder / "b.onnx"));
}

// Cut anywhere, a file is refused with a line or read as what is left of it; nothing else.
TEST(OnnxGraph, TruncatedFilesAreRefusedByName) {
  const TemporaryFolder folder;
  writeOnnxGraph(folder / "g.onnx", graph());
  const std::string whole = contentOf(folder / "g.onnx");
  int refused = 0;
  for (std::size_t length = 0; length < whole.size(); length += 3) {
    testing_support::writeContent(folder / "cut.onnx", whole.substr(0, length));
    const std::string answer = refusal([&] { readOnnxGraph(folder / "cut.onnx"); });
    if (answer == "accepted") continue;
    ++refused;
    EXPECT_NE(answer.find("cut.onnx: "), std::string::npos) << answer;
  }
  EXPECT_GT(refused, static_cast<int>(whole.size()) / 6);
}

TEST(OnnxGraph, ConstantsWithoutAllTheirValuesAreRefused) {
  const TemporaryFolder folder;
  OnnxGraph g = graph();
  g.constants["w"].values.pop_back();
  writeOnnxGraph(folder / "g.onnx", g);
  EXPECT_NE(
      refusal([&] { readOnnxGraph(folder / "g.onnx"); }).find("the weights w have fewer or more values"),
      std::string::npos);
}

}  // namespace
}  // namespace jugendstil
