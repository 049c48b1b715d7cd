// SPDX-License-Identifier: Apache-2.0
#include "learn/general_painter.h"

#include <gtest/gtest.h>

#include <functional>
#include <random>

#include "learn/paint_at_once.h"
#include "learn/painter_file.h"
#include "network/onnx_file.h"
#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::contentOf;
using testing_support::distance;
using testing_support::refusal;
using testing_support::sample;
using testing_support::smallChain;
using testing_support::strokes;
using testing_support::TemporaryFolder;

std::vector<float> numbers(std::size_t count, float spread, std::uint64_t seed) {
  std::mt19937_64 random(seed);
  std::vector<float> all(count);
  for (float& v : all) v = spread * (static_cast<float>(random() >> 40) * 0x1p-23F - 1);
  return all;
}

std::size_t lengthOfManner() {
  const auto targets =
      measureReferences(smallChain(), {{sample(64, 64), 1}}, {64, 64}, 1, MeasureKind::gram, Precision::full);
  return mannerOf(targets, 0).size();
}

// Whose paintings hang on the manner, and are not near the photo.
GeneralPainter general() {
  GeneralPainter g{painterNet(3)};
  // What is added to the photo, much stronger than at first.
  for (int i = 1; i < static_cast<int>(g.net.layers.size()); ++i) {
    if (g.net.layers[i].outputs != 3 || g.net.layers[i].stride != 1) continue;
    for (std::size_t k = 0; k < g.net.parameterCount(i); ++k)
      g.net.parameters[g.net.firstParameter(i) + k] *= 30;
  }
  const std::size_t length = lengthOfManner();
  std::vector<float> first;
  for (const std::size_t place : normalisationPlaces(g.net)) first.push_back(g.net.parameters[place]);
  g.manners = mannerNet(std::vector<float>(length), std::vector<float>(length, 1), first, 5);
  const std::vector<float> more = numbers(g.manners.parameters.size(), 0.2F, 6);
  for (std::size_t i = 0; i < more.size(); ++i) g.manners.parameters[i] += more[i];
  g.network = smallChain().checksum;
  g.notes = {{"pictures", "many"}};
  return g;
}

LearnSettings settings() {
  LearnSettings s;
  s.longEdge = 96;
  return s;
}

TEST(GeneralPainter, ComesBackAsItWas) {
  const TemporaryFolder folder;
  writeGeneralPainter(folder / "g.onnx", general());
  const GeneralPainter back = readGeneralPainter(folder / "g.onnx");
  EXPECT_EQ(back.manners.parameters, general().manners.parameters);
  EXPECT_EQ(back.manners.hidden, general().manners.hidden);
  EXPECT_EQ(back.network, general().network);
  EXPECT_EQ(back.notes, general().notes);
  const std::vector<float> manner = numbers(lengthOfManner(), 1, 7);
  EXPECT_EQ(netFor(back, manner).parameters, netFor(general(), manner).parameters);
  writeGeneralPainter(folder / "again.onnx", back);
  EXPECT_EQ(contentOf(folder / "g.onnx"), contentOf(folder / "again.onnx"));
}

// What the file says, computed by hand: a scale of its first normalisation.
TEST(GeneralPainter, ItsFileSaysHowAMannerBecomesAScale) {
  const TemporaryFolder folder;
  writeGeneralPainter(folder / "g.onnx", general());
  const OnnxGraph graph = readOnnxGraph(folder / "g.onnx");
  const std::vector<float> manner = numbers(lengthOfManner(), 1, 8);
  const auto& w = graph.constants.at("manner.hidden.weights");
  const auto& b = graph.constants.at("manner.hidden.bias").values;
  std::vector<double> hidden(b.begin(), b.end());
  for (std::size_t h = 0; h < hidden.size(); ++h) {
    for (std::size_t i = 0; i < manner.size(); ++i)
      hidden[h] += double{w.values[h * manner.size() + i]} * manner[i];
    hidden[h] = std::max(0.0, hidden[h]);
  }
  const auto& rows = graph.constants.at("layer03.scale.weights").values;
  double scale = graph.constants.at("layer03.scale.bias").values[1];
  for (std::size_t h = 0; h < hidden.size(); ++h) scale += rows[hidden.size() + h] * hidden[h];
  const Net net = netFor(general(), manner);
  EXPECT_NEAR(net.parameters[normalisationPlaces(net)[1]], scale, 1e-4);
}

TEST(GeneralPainter, PaintsAfterAnyReference) {
  const Chain chain = smallChain();
  const Image photo = sample(96, 72, 1);
  const auto painted = [&](const Image& reference, double likeness) {
    LearnSettings s = settings();
    s.painting.likeness = likeness;
    s.painting.brushwork = false;
    s.painting.longEdge = 96;
    const QuickPainter painter = painterFor(general(), chain, {{reference, 1}}, s);
    const PainterChoice choice{&painter};
    return paintAtOnce(choice, inputsWith(choice, {photo, {}}), settingsWith(choice, s.painting), {})
        .painting;
  };
  const Image first = painted(strokes(96, 96, true), 50);
  EXPECT_EQ(first.pixels, painted(strokes(96, 96, true), 50).pixels);
  EXPECT_GT(distance(first, painted(strokes(96, 96, false), 50)), 1e-3);
  EXPECT_GT(distance(first, painted(strokes(96, 96, true), 80)), 1e-4);
}

TEST(GeneralPainter, RefusesAnotherNetworksBands) {
  GeneralPainter other = general();
  other.network = "of another one";
  EXPECT_NE(refusal([&] {
              painterFor(other, smallChain(), {{sample(64, 64), 1}}, settings());
            }).find("trained with another feature network"),
            std::string::npos);
}

TEST(GeneralPainter, IsNoPainterByItself) {
  const TemporaryFolder folder;
  writeGeneralPainter(folder / "g.onnx", general());
  EXPECT_NE(refusal([&] { readPainter(folder / "g.onnx"); }).find("give a reference and say quick"),
            std::string::npos);
}

// What a change to the file is answered with.
std::string answerTo(const std::function<void(OnnxGraph&)>& change) {
  const TemporaryFolder folder;
  writeGeneralPainter(folder / "g.onnx", general());
  OnnxGraph graph = readOnnxGraph(folder / "g.onnx");
  change(graph);
  writeOnnxGraph(folder / "g.onnx", graph);
  return refusal([&] { readGeneralPainter(folder / "g.onnx"); });
}

TEST(GeneralPainter, SaysWhatIsDamaged) {
  EXPECT_NE(
      answerTo([](OnnxGraph& g) { g.constants.erase("manner.spread"); }).find("manner.spread is missing"),
      std::string::npos);
  EXPECT_NE(answerTo([](OnnxGraph& g) { g.constants["manner.spread"].values[0] = 0; }).find("not above 0"),
            std::string::npos);
  EXPECT_NE(answerTo([](OnnxGraph& g) {
              g.constants["manner.centre"] = {{3}, {0, 0, 0}};
            }).find("do not fit each other"),
            std::string::npos);
  EXPECT_NE(answerTo([](OnnxGraph& g) {
              g.constants["layer03.scale.bias"] = {{2}, {0, 0}};
            }).find("fit"),
            std::string::npos);
  EXPECT_NE(answerTo([](OnnxGraph& g) { g.name = "painter"; }).find("no general painter"), std::string::npos);
}

}  // namespace
}  // namespace jugendstil
