// SPDX-License-Identifier: Apache-2.0
#include "network/import.h"

#include <gtest/gtest.h>

#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/dnn.hpp>
#include <random>

#include "base/error.h"
#include "network/evaluator.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::TemporaryFolder;
using Ints = std::vector<std::int64_t>;

// A classifier of the well-known shape, narrow, with random weights, written as exporters do.
class Foreign {
 public:
  Foreign() {
    graph.name = "foreign";
    graph.inputs = {{"data", {"1", "3", "32", "48"}}};
  }

  OnnxNode& add(const char* op, std::vector<std::string> more = {}) {
    OnnxNode node;
    node.op = op;
    node.inputs = {last};
    node.inputs.insert(node.inputs.end(), more.begin(), more.end());
    last = std::string(op) + std::to_string(graph.nodes.size());
    node.name = last;
    node.outputs = {last};
    return graph.nodes.emplace_back(std::move(node));
  }

  std::string constant(const Ints& shape, float middle, float spread) {
    std::size_t count = 1;
    for (const std::int64_t d : shape) count *= static_cast<std::size_t>(d);
    OnnxConstant c{shape, {}};
    std::normal_distribution<float> normal(middle, spread);
    for (std::size_t i = 0; i < count; ++i) c.values.push_back(std::max(-3.0F, normal(random)));
    std::string name = "c" + std::to_string(graph.constants.size());
    graph.constants[name] = std::move(c);
    return name;
  }

  OnnxNode& convolve(int inputs, int outputs, int kernel, bool bias = true, int groups = 1) {
    const float spread = std::sqrt(2.0F / static_cast<float>(inputs / groups * kernel * kernel));
    std::vector<std::string> more{constant({outputs, inputs / groups, kernel, kernel}, 0, spread)};
    if (bias) more.push_back(constant({outputs}, 0.1F, 0.05F));
    OnnxNode& node = add("Conv", more);
    const std::int64_t k = kernel;
    node.ints = {{"kernel_shape", {k, k}}, {"pads", {k / 2, k / 2, k / 2, k / 2}}, {"group", {groups}}};
    return node;
  }

  void pool(const char* op) { add(op).ints = {{"kernel_shape", {2, 2}}, {"strides", {2, 2}}}; }

  void normalise(int channels) {
    add("BatchNormalization", {constant({channels}, 1, 0.2F), constant({channels}, 0.1F, 0.1F),
                               constant({channels}, 0, 0.2F), constant({channels}, 1.5F, 0.1F)})
        .floats["epsilon"] = 1e-4F;
  }

  // 3-8-8, pool, 8-16 (of two groups) with normalisation, a 5x5, and a head that no chain has.
  void build(const char* pooling, bool padsBefore = true) {
    convolve(3, 8, 3);
    add("Relu");
    convolve(8, 8, 3);
    add("Relu");
    pool(pooling);
    convolve(8, 16, 3, false, 2);
    normalise(16);
    add("Relu");
    add("Dropout");
    if (padsBefore) {
      graph.constants["pads"] = {{8}, {0, 0, 2, 2, 0, 0, 2, 2}};
      add("Pad", {"pads"}).strings["mode"] = "constant";
    }
    OnnxNode& broad = convolve(16, 8, 5);
    if (padsBefore) broad.ints["pads"] = {0, 0, 0, 0};
    add("Relu");
    deepest = last;
    add("Flatten");
    graph.outputs = {{last, {"1", "768"}}};
  }

  OnnxGraph graph;
  std::mt19937 random{11};
  std::string last = "data";
  std::string deepest;
};

SamplePicture picture(int width, int height) {
  SamplePicture made{width, height, {}};
  std::mt19937 random(5);
  std::uniform_real_distribution<float> unit;
  for (auto& plane : made.planes) {
    for (int i = 0; i < width * height; ++i) plane.push_back(unit(random));
  }
  return made;
}

std::vector<float> bandOf(const Chain& chain, const SamplePicture& p, const std::string& name) {
  const std::size_t band = chain.bandIndex(name);
  Evaluator evaluator(chain, p.width, p.height, Precision::full, {band});
  evaluator.forward(p.planes[0], p.planes[1], p.planes[2]);
  const BandShape shape = evaluator.shape(band);
  const std::vector<float> rows = evaluator.activations(band);
  std::vector<float> planes(rows.size());
  const auto positions = static_cast<std::size_t>(shape.positions());
  const auto channels = static_cast<std::size_t>(shape.channels);
  for (std::size_t p2 = 0; p2 < positions; ++p2) {
    for (std::size_t c = 0; c < channels; ++c) planes[c * positions + p2] = rows[p2 * channels + c];
  }
  return planes;
}

// What another runtime makes of the file as it is.
std::vector<float> elsewhere(const std::filesystem::path& file, const SamplePicture& p,
                             const InputValues& in) {
  cv::dnn::Net net = cv::dnn::readNetFromONNX(file.string());
  const int sizes[] = {1, 3, p.height, p.width};
  cv::Mat blob(4, sizes, CV_32F);
  for (std::size_t c = 0; c < 3; ++c) {
    const std::size_t own = in.blueFirst ? 2 - c : c;
    for (std::size_t i = 0; i < p.planes[c].size(); ++i)
      blob.ptr<float>(0, static_cast<int>(own))[i] =
          (p.planes[c][i] * in.white - in.mean[c]) / in.deviation[c];
  }
  net.setInput(blob);
  const cv::Mat out = net.forward();
  return {out.ptr<float>(), out.ptr<float>() + out.total()};
}

double lengthOf(const std::vector<float>& values) {
  double sum = 0;
  for (const float v : values) sum += static_cast<double>(v) * static_cast<double>(v);
  return std::sqrt(sum);
}

double apart(const std::vector<float>& a, const std::vector<float>& b) {
  EXPECT_EQ(a.size(), b.size());
  double difference = 0;
  double norm = 0;
  for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i) {
    difference += std::pow(static_cast<double>(a[i] - b[i]), 2);
    norm += std::pow(static_cast<double>(b[i]), 2);
  }
  return std::sqrt(difference / norm);
}

const InputValues kStandard{1, {0.485F, 0.456F, 0.406F}, {0.229F, 0.224F, 0.225F}, false};
const InputValues kBytes{255, {123.68F, 116.779F, 103.939F}, {1, 1, 1}, true};

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
  refused([](OnnxGraph& g) { g.nodes[1].op = "LeakyRelu"; }, "LeakyRelu (Relu1)");
  refused([](OnnxGraph& g) { g.nodes[2].ints["strides"] = {2, 2}; }, "Conv (Conv2): its strides are 2,2");
  refused([](OnnxGraph& g) { g.nodes[2].ints["pads"] = {0, 0, 0, 0}; }, "not of the size");
  refused(
      [](OnnxGraph& g) {
        g.nodes[4].ints["kernel_shape"] = {3, 3};
      },
      "does not take 2x2 positions to one");
  refused([](OnnxGraph& g) { g.nodes[9].strings["mode"] = "reflect"; }, "other than zeros");
  refused(
      [](OnnxGraph& g) {
        OnnxNode sum;
        sum.op = "Add";
        sum.inputs = {"Relu3", "Relu1"};
        sum.outputs = {"sum"};
        g.nodes.push_back(sum);
      },
      "goes on in two branches");
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
