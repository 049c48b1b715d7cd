// SPDX-License-Identifier: Apache-2.0
// Networks from elsewhere, of the well-known shape with nineteen layers: jugendstil_network_bars
// What framework_step.py compares itself with: jugendstil_network_bars step own|nineteen
#include <algorithm>
#include <cmath>
#include <iostream>
#include <random>

#include "bare_convolutions.h"
#include "base/number.h"
#include "base/parallel.h"
#include "canvas.h"
#include "image/picture_file.h"
#include "measure.h"
#include "network/bands_at.h"
#include "network/chain_file.h"
#include "paint/easel.h"
#include "paint/painter.h"
#include "paint/plan.h"

namespace {

using namespace jugendstil;
using namespace bench;

// Random weights: what they are is nothing to the time that they take.
class Shape {
 public:
  Shape() {
    chain_.mean = {0.485F, 0.456F, 0.406F};
    chain_.scale = {4.4F, 4.4F, 4.4F};
  }

  // From the layer `input`, or with -1 from the one before.
  Convolution& add(int inputs, int outputs, int kernel, int stride = 1, int input = -1) {
    Convolution conv;
    conv.name = fmt::format("layer{}", chain_.convolutions.size());
    conv.inputs = inputs;
    conv.outputs = outputs;
    conv.kernel = kernel;
    conv.stride = stride;
    conv.input = input;
    conv.bias.assign(static_cast<std::size_t>(outputs), 0.02F);
    conv.weights.resize(cellCount(kernel, kernel) * static_cast<std::size_t>(inputs) * conv.bias.size());
    const float spread = std::sqrt(2.0F / static_cast<float>(kernel * kernel * inputs));
    for (float& w : conv.weights) w = spread * normal_(random_);
    return chain_.convolutions.emplace_back(std::move(conv));
  }

  int last() const { return static_cast<int>(chain_.convolutions.size()) - 1; }
  Chain take() { return std::move(chain_); }

 private:
  Chain chain_;
  std::mt19937 random_{3};
  std::normal_distribution<float> normal_;
};

Chain nineteenLayers() {
  const std::vector<std::vector<int>> blocks{
      {64, 64}, {128, 128}, {256, 256, 256, 256}, {512, 512, 512, 512}, {512}};
  Shape shape;
  int inputs = 3;
  for (std::size_t b = 0; b < blocks.size(); ++b) {
    for (std::size_t i = 0; i < blocks[b].size(); ++i) {
      shape.add(inputs, blocks[b][i], 3).pooling = b > 0 && i == 0 ? Pooling::maximum : Pooling::none;
      inputs = blocks[b][i];
    }
  }
  return measuredAt(shape.take(), {"1_1", "2_1", "3_1", "4_1", "5_1"}, {"4_2"});
}

// The residual one of eighteen layers, but for its last stage.
Chain residualLayers() {
  Shape shape;
  shape.add(3, 64, 7, 2);
  Convolution& pooled = shape.add(64, 64, 1);  // what several take is pooled once
  pooled.pooling = Pooling::maximum;
  pooled.window = {3, 1};
  pooled.negativeSlope = 1;
  int inputs = 64;
  for (const int channels : {64, 64, 128, 128, 256, 256}) {
    const int from = shape.last();
    const int stride = channels == inputs ? 1 : 2;
    shape.add(inputs, channels, 3, stride);
    Convolution& straight = shape.add(channels, channels, 3);
    if (stride == 1) {
      straight.plus = from;
    } else {
      straight.negativeSlope = 1;
      const int sum = shape.last();
      shape.add(inputs, channels, 1, 2, from).plus = sum;
    }
    inputs = channels;
  }
  return measuredAt(shape.take(), {"2_1", "3_2", "4_3", "5_3"}, {"4_3"});
}

struct Material {
  Chain chain;
  Image photo =
      rgbOf(readPicture(std::string(JUGENDSTIL_SHARE_SOURCE) + "/demo/photos/palm_house.jpg").image);
  std::vector<PaintReference> references{
      {rgbOf(
           readPicture(std::string(JUGENDSTIL_SHARE_SOURCE) + "/demo/references/evening_impasto.jpg").image),
       1}};
};

// A painting's steps on 512x384, timed.
class Steps {
 public:
  explicit Steps(const Material& m)
      : easel_(m.chain,
               measureReferences(m.chain, m.references, {512, 384}, 1, MeasureKind::gram, Precision::full),
               canvasOf(512, 384), inFull()),
        run_(easel_, resizePhoto(m.photo, 512, 384)) {
    easel_.hold(m.photo, {50});
  }

  // Seconds of the quickest of four.
  double quickest() {
    double step = 1e9;
    for (int i = 0; i < 4; ++i) {
      LossTerms loss;
      const auto begin = Clock::now();
      run_.step(count_, 1000, static_cast<std::uint64_t>(count_), loss);
      ++count_;
      step = std::min(step, since(begin));
    }
    return step;
  }

 private:
  static PaintSettings inFull() {
    PaintSettings settings;
    settings.precision = PrecisionChoice::full;
    return settings;
  }

  Easel easel_;
  LevelRun run_;
  int count_ = 0;
};

// Steps and bare convolutions in turn, because a machine's speed drifts.
double stepAgainstBare(const Material& m) {
  Steps steps(m);
  double step = 1e9;
  double bare = 1e9;
  for (int round = 0; round < 4; ++round) {
    bare = std::min(bare, bareConvolutions(m.chain, 512, 384, Precision::full).fastest);
    step = std::min(step, steps.quickest());
  }
  fmt::print("step {:.2f} s, bare convolutions {:.2f} s\n", step, bare);
  return step / bare;
}

// The layers with what is measured there, and after each line that comes in the seconds of a step.
void serveSteps(const Material& m) {
  for (std::size_t i = 0; i < m.chain.convolutions.size(); ++i) {
    const Convolution& conv = m.chain.convolutions[i];
    const char* pooling = conv.pooling == Pooling::none      ? "none"
                          : conv.pooling == Pooling::average ? "average"
                                                             : "maximum";
    std::string roles;
    for (const Band& band : m.chain.bands) {
      if (band.layer != static_cast<int>(i)) continue;
      for (const auto& [names, role] :
           {std::pair{&m.chain.styleBands, "style"}, {&m.chain.contentBands, "content"}})
        roles += std::find(names->begin(), names->end(), band.name) != names->end() ? fmt::format(" {}", role)
                                                                                    : "";
    }
    fmt::print("{} {} {} {}{}\n", conv.inputs, conv.outputs, conv.kernel, pooling, roles);
  }
  fmt::print("ready\n");
  std::fflush(stdout);
  Steps steps(m);
  for (std::string line; std::getline(std::cin, line);) {
    fmt::print("{}\n", steps.quickest());
    std::fflush(stdout);
  }
}

// Of evaluating and going back alone, as it is foretold.
void evaluate(int width, int height, std::size_t budget) {
  const Chain chain = nineteenLayers();
  std::vector<std::size_t> bands;
  for (std::size_t b = 0; b < chain.bands.size(); ++b) bands.push_back(b);
  Evaluator evaluator(chain, width, height, Precision::full, bands, budget);
  std::vector<float> plane(static_cast<std::size_t>(width) * static_cast<std::size_t>(height), 0.4F);
  std::vector<float> red = plane;
  std::vector<float> green = plane;
  evaluator.forward(plane, plane, plane);
  evaluator.backward(
      [&](std::size_t band, BandGradient& sink) {
        sink.addAt(std::vector<int>{0},
                   std::vector<float>(static_cast<std::size_t>(evaluator.shape(band).channels), 1.0F));
      },
      red, green, plane);
}

// A painting's memory. What is told of a small network is mostly what lies around it, and too much.
void foretell(const Material& m, bool sums) {
  PaintSettings settings;
  settings.precision = PrecisionChoice::full;
  settings.longEdge = 512;
  settings.brushwork = false;
  settings.steps = {2};
  const Size photo{m.photo.width, m.photo.height};
  const double told = static_cast<double>(planPainting(photo, settings, m.chain).memory) / (1 << 20);
  const double taken = peakMemory([&] {
    setThreads(2);
    paint(m.chain, {m.photo, m.references}, settings, {});
  });
  fmt::print("a painting of 512 pixels{}: {:.0f} MB told, {:.0f} MB taken\n", sums ? ", with sums" : "", told,
             taken);
  if (!sums) report("memory told against taken", std::abs(told / taken - 1), "off", 0.1, true);
}

}  // namespace

int main(int count, char** words) {
  setThreads(2);
  if (count == 3 && std::string(words[1]) == "step") {
    serveSteps({std::string(words[2]) == "own"
                    ? readOnnx(std::string(JUGENDSTIL_SHARE_SOURCE) + "/networks/filigree.onnx")
                    : nineteenLayers()});
    return 0;
  }
  for (const bool sums : {false, true}) foretell({sums ? residualLayers() : nineteenLayers()}, sums);
  const double tiled = peakMemory([] {
    setThreads(2);
    evaluate(2048, 1536, std::size_t{2500} << 20);
  });
  report("peak memory at 2048x1536 in tiles", tiled, "MB", 3072, true);
  setThreads(2);
  report("step at 512x384 against its bare convolutions", stepAgainstBare({nineteenLayers()}), "times", 1.25,
         true);
  fmt::print("with sums, eighteen layers: {:.2f} times its bare convolutions\n",
             stepAgainstBare({residualLayers()}));
}
