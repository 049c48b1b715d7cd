// SPDX-License-Identifier: Apache-2.0
#include "network/import.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "network/chain_file.h"
#include "network/foreign.h"
#include "network/onnx_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using namespace testing_foreign;
using testing_support::TemporaryFolder;

TEST(Import, SeesWhatTheFileSeesInAnotherRuntime) {
  const TemporaryFolder folder;
  for (const char* pooling : {"MaxPool", "AveragePool"}) {
    for (const InputValues& input : {kStandard, kBytes}) {
      Foreign foreign;
      foreign.build(pooling, false);
      // The other runtime gives what comes last.
      foreign.graph.nodes.pop_back();
      foreign.graph.outputs = {{foreign.deepest, {"1", "8", "16", "24"}}};
      writeOnnxGraph(folder / "foreign.onnx", foreign.graph);
      const Chain made = importedChain(readOnnxGraph(folder / "foreign.onnx"), "foreign.onnx",
                                       {{"1_2", "2_1"}, {"2_2"}, {}, input});
      writeOnnxGraph(folder / "own.onnx", graphOf(made, {{"note", "kept"}}));
      const Chain chain = readOnnx(folder / "own.onnx");
      EXPECT_EQ(chain.styleBands, (std::vector<std::string>{"1_2", "2_1"}));
      EXPECT_EQ(chain.contentBands, std::vector<std::string>{"2_2"});
      EXPECT_EQ(chain.notes.at("note"), "kept");
      EXPECT_EQ(chain.bands.back().stride, 2);
      EXPECT_EQ(chain.bands.back().receptiveField, 18);
      const SamplePicture p = picture(48, 32);
      EXPECT_LT(apart(bandOf(chain, p, "2_2"), elsewhere(folder / "foreign.onnx", p, input)), 1e-4)
          << pooling << input.white;
    }
  }
}

TEST(Import, APadBeforeAConvolutionIsItsOwn) {
  Foreign apartFrom;
  Foreign together;
  apartFrom.build("MaxPool", true);
  together.build("MaxPool", false);
  const ImportSettings settings{{"1_1"}, {"2_2"}, {}, kStandard};
  const Chain a = importedChain(apartFrom.graph, "foreign.onnx", settings);
  const Chain b = importedChain(together.graph, "foreign.onnx", settings);
  const SamplePicture p = picture(48, 32);
  EXPECT_EQ(bandOf(a, p, "2_2"), bandOf(b, p, "2_2"));
}

TEST(Import, AnAddBehindAConvolutionIsItsBias) {
  Foreign foreign;
  foreign.convolve(3, 8, 3, false);
  foreign.add("Add", {foreign.constant({8, 1, 1}, 0.3F, 0.1F)});
  foreign.add("Relu");
  const std::vector<float> added = foreign.graph.constants.at(foreign.graph.nodes[1].inputs[1]).values;
  const Chain chain = importedChain(foreign.graph, "foreign.onnx", {{"1_1"}, {"1_1"}, {}, kStandard});
  EXPECT_EQ(chain.convolutions[0].bias, added);
}

TEST(Import, TakesWhatTheFileDoesToColours) {
  Foreign foreign;
  foreign.graph.constants["mean"] = {{1, 3, 1, 1}, {0.5F, 0.4F, 0.3F}};
  foreign.graph.constants["deviation"] = {{3, 1, 1}, {0.5F, 0.25F, 0.2F}};
  foreign.add("Sub", {"mean"});
  foreign.add("Div", {"deviation"});
  foreign.build("MaxPool");
  EXPECT_TRUE(saysItsInput(foreign.graph));
  const Chain chain = importedChain(foreign.graph, "foreign.onnx", {{"1_1"}, {"1_2"}});
  EXPECT_FLOAT_EQ(chain.mean[1], 0.4F);
  EXPECT_FLOAT_EQ(chain.scale[2], 5.0F);
}

TEST(Import, PoolsAsAskedAndNamesBandsByOutputs) {
  Foreign foreign;
  foreign.build("MaxPool");
  const Chain chain = importedChain(foreign.graph, "foreign.onnx",
                                    {{"Relu1", "1_1"}, {foreign.deepest}, Pooling::average, kStandard});
  EXPECT_EQ(chain.convolutions[2].pooling, Pooling::average);
  EXPECT_EQ(chain.styleBands, std::vector<std::string>{"1_1"});
  EXPECT_EQ(chain.contentBands, std::vector<std::string>{"2_2"});
}

TEST(Import, LayersAreScaledToAMeanOfOne) {
  Foreign foreign;
  foreign.build("MaxPool");
  const Chain before = importedChain(foreign.graph, "foreign.onnx", {{"1_1", "2_1"}, {"2_2"}, {}, kStandard});
  Chain chain = before;
  const std::vector<SamplePicture> pictures{picture(48, 32), picture(40, 40)};
  scaleToMeanOne(chain, pictures);
  for (const std::string name : {"1_1", "2_1", "2_2"}) {
    double mean = 0;
    for (const SamplePicture& p : pictures) {
      const std::vector<float> band = bandOf(chain, p, name);
      for (const float v : band) mean += static_cast<double>(v) / static_cast<double>(band.size() * 2);
    }
    EXPECT_NEAR(mean, 1, 1e-4) << name;
    // Every value by the same number.
    const std::vector<float> then = bandOf(before, pictures[0], name);
    std::vector<float> now = bandOf(chain, pictures[0], name);
    const double factor = lengthOf(now) / lengthOf(then);
    for (float& v : now) v = static_cast<float>(v / factor);
    EXPECT_LT(apart(now, then), 1e-4) << name;
  }
}

std::string refusal(const OnnxGraph& graph, const ImportSettings& settings) {
  try {
    importedChain(graph, "foreign.onnx", settings);
  } catch (const Error& e) {
    return e.what();
  }
  return "taken";
}

TEST(Import, NamesTheFirstOperatorThatCannotBeTaken) {
  const auto refused = [](auto change, const char* because) {
    Foreign foreign;
    foreign.build("MaxPool");
    change(foreign.graph);
    const std::string why = refusal(foreign.graph, {{"1_1"}, {"2_2"}, {}, kStandard});
    EXPECT_NE(why.find(because), std::string::npos) << why;
  };
  refused([](OnnxGraph& g) { g.nodes[1].op = "Softplus"; }, "Softplus (Relu1)");
  refused([](OnnxGraph& g) { g.nodes[2].ints["strides"] = {3, 3}; }, "Conv (Conv2): its strides are 3,3");
  refused([](OnnxGraph& g) { g.nodes[2].ints["dilations"] = {2, 2}; }, "its dilations are 2,2");
  refused([](OnnxGraph& g) { g.nodes[2].ints["pads"] = {0, 1, 0, 1}; }, "not alike above and to the left");
  refused(
      [](OnnxGraph& g) {
        g.nodes[2].ints["pads"] = {3, 3, 3, 3};
        g.nodes[2].ints["strides"] = {4, 4};
      },
      "padded by 3 for a kernel of 3");
  refused(
      [](OnnxGraph& g) {
        g.nodes[4].ints["kernel_shape"] = {4, 4};
      },
      "does not take windows of 2x2 or 3x3");
  refused([](OnnxGraph& g) { g.nodes[9].strings["mode"] = "reflect"; }, "other than zeros");
  refused([](OnnxGraph& g) { g.constants.erase(g.nodes[0].inputs[1]); }, "is not a constant");
  refused([](OnnxGraph& g) { g.nodes[0].inputs.resize(1); }, "not those of a convolution");
}

TEST(Import, ALayerThatIsNotThereIsMissed) {
  Foreign foreign;
  foreign.build("MaxPool");
  EXPECT_NE(refusal(foreign.graph, {{"1_1"}, {"7_1"}, {}, kStandard}).find("there are 1_1, 1_2, 2_1, 2_2"),
            std::string::npos);
  foreign.graph.nodes.pop_back();  // the head
  EXPECT_NE(refusal(foreign.graph, {{"1_1"}, {"7_1"}, {}, kStandard}).find("no layer \"7_1\""),
            std::string::npos);
  EXPECT_NE(refusal(foreign.graph, {{"1_1"}, {"2_1"}}).find("does not say which colour values"),
            std::string::npos);
}

}  // namespace
}  // namespace jugendstil
