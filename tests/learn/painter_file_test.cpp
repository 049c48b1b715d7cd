// SPDX-License-Identifier: Apache-2.0
#include "learn/painter_file.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <functional>
#include <opencv2/dnn.hpp>

#include "learn/net_pass.h"
#include "learn/quick_painting.h"
#include "network/onnx_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::refusal;
using testing_support::TemporaryFolder;
using testing_support::writeContent;

Painter painter() { return {painterNet(3), {{"reference", "evening.jpg"}, {"likeness", "50"}}}; }

TEST(PainterFile, ComesBackAsItWas) {
  const TemporaryFolder folder;
  writePainter(folder / "oil.painter.onnx", painter());
  const Painter back = readPainter(folder / "oil.painter.onnx");
  EXPECT_EQ(back.notes, painter().notes);
  EXPECT_EQ(back.net.parameters, painter().net.parameters);
  ASSERT_EQ(back.net.layers.size(), painter().net.layers.size());
  writePainter(folder / "again.painter.onnx", back);
  EXPECT_EQ(contentOf(folder / "oil.painter.onnx"), contentOf(folder / "again.painter.onnx"));
}

// Another runtime paints the same with it.
TEST(PainterFile, RunsElsewhereAndPaintsTheSame) {
  const TemporaryFolder folder;
  writePainter(folder / "oil.painter.onnx", painter());
  const Image photo = testing_support::sample(128, 96);
  cv::dnn::Net net = cv::dnn::readNetFromONNX((folder / "oil.painter.onnx").string());
  const cv::Mat picture(photo.height, photo.width, CV_32FC3, const_cast<float*>(photo.pixel(0)));
  net.setInput(cv::dnn::blobFromImage(picture));
  const cv::Mat theirs = net.forward();
  ASSERT_EQ(theirs.total(), photo.area() * 3);
  const Net own = painter().net;
  NetPass pass(own, photo.width, photo.height, NetPass::Use::painting);
  const Image ours = imageOfCentred(pass.forward(centredPlanes(photo)));
  for (std::size_t i = 0; i < photo.area(); ++i) {
    for (std::size_t c = 0; c < 3; ++c)
      ASSERT_NEAR(theirs.ptr<float>()[c * photo.area() + i], ours.pixel(i)[c], 1e-3F) << i;
  }
}

// What a change to the file is answered with.
std::string answerTo(const std::function<void(OnnxGraph&)>& change) {
  const TemporaryFolder folder;
  writePainter(folder / "p.onnx", painter());
  OnnxGraph graph = readOnnxGraph(folder / "p.onnx");
  change(graph);
  writeOnnxGraph(folder / "p.onnx", graph);
  return refusal([&] { readPainter(folder / "p.onnx"); });
}

OnnxNode& firstOf(OnnxGraph& graph, const std::string& op) {
  return *std::find_if(graph.nodes.begin(), graph.nodes.end(), [&](const OnnxNode& n) { return n.op == op; });
}

TEST(PainterFile, NamesTheOperatorThatDoesNotFit) {
  const auto expect = [](const std::string& part, const std::function<void(OnnxGraph&)>& change) {
    const std::string answer = answerTo(change);
    EXPECT_NE(answer.find(part), std::string::npos) << answer;
  };
  expect("the operator Softmax (layer02)", [](OnnxGraph& g) { g.nodes[2].op = "Softmax"; });
  expect("its kernel is not square", [](OnnxGraph& g) {
    OnnxConstant& weights = g.constants["layer02.weights"];
    weights.shape[2] = 1;
    weights.values.resize(weights.values.size() / 3);
  });
  expect("its weights do not take", [](OnnxGraph& g) { firstOf(g, "Conv").inputs[1] = "layer04.weights"; });
  expect("its strides are 3,3", [](OnnxGraph& g) { g.nodes[2].ints["strides"] = {3, 3}; });
  expect("its pads are 0,0,0,0", [](OnnxGraph& g) { g.nodes[2].ints["pads"] = {0, 0, 0, 0}; });
  expect("its mode is not linear", [](OnnxGraph& g) { firstOf(g, "Resize").strings["mode"] = "cubic"; });
  expect("does not stand before it",
         [](OnnxGraph& g) { firstOf(g, "InstanceNormalization").inputs[0] = "layer20"; });
  expect("the name of another", [](OnnxGraph& g) { g.nodes[2].outputs[0] = "centred"; });
  expect("a painter takes one picture", [](OnnxGraph& g) { g.inputs.push_back({"mask", {"1"}}); });
  expect("its output is not", [](OnnxGraph& g) { g.outputs[0].name = "centred"; });
}

TEST(PainterFile, WhatIsNoPainterIsRefused) {
  const TemporaryFolder folder;
  writeContent(folder / "no.onnx", "not a network");
  EXPECT_NE(refusal([&] { readPainter(folder / "no.onnx"); }).find("is not an ONNX network"),
            std::string::npos);
  EXPECT_NE(refusal([&] {
              readPainter(testing_support::sourceFolder() / "networks/filigree.onnx");
            }).find("a painter takes one picture and gives one"),
            std::string::npos);
}

}  // namespace
}  // namespace jugendstil
