// SPDX-License-Identifier: Apache-2.0
// Networks from elsewhere, of the well-known shape with nineteen layers: jugendstil_network_bars
#include <cmath>
#include <random>

#include "bare_convolutions.h"
#include "base/parallel.h"
#include "canvas.h"
#include "image/picture_file.h"
#include "measure.h"
#include "network/bands_at.h"
#include "paint/easel.h"
#include "paint/painter.h"
#include "paint/plan.h"

namespace {

using namespace jugendstil;
using namespace bench;

// Random weights: what they are is nothing to the time that they take.
Chain nineteenLayers() {
  const std::vector<std::vector<int>> blocks{
      {64, 64}, {128, 128}, {256, 256, 256, 256}, {512, 512, 512, 512}, {512}};
  Chain chain;
  chain.mean = {0.485F, 0.456F, 0.406F};
  chain.scale = {4.4F, 4.4F, 4.4F};
  std::mt19937 random(3);
  std::normal_distribution<float> normal;
  int inputs = 3;
  for (std::size_t b = 0; b < blocks.size(); ++b) {
    for (std::size_t i = 0; i < blocks[b].size(); ++i) {
      Convolution conv;
      conv.name = fmt::format("{}_{}", b + 1, i + 1);
      conv.inputs = inputs;
      conv.outputs = blocks[b][i];
      conv.pooling = b > 0 && i == 0 ? Pooling::maximum : Pooling::none;
      conv.bias.assign(static_cast<std::size_t>(conv.outputs), 0.02F);
      conv.weights.resize(std::size_t{9} * static_cast<std::size_t>(conv.inputs) * conv.bias.size());
      const float spread = std::sqrt(2.0F / static_cast<float>(9 * conv.inputs));
      for (float& w : conv.weights) w = spread * normal(random);
      inputs = conv.outputs;
      chain.convolutions.push_back(std::move(conv));
    }
  }
  return measuredAt(std::move(chain), {"1_1", "2_1", "3_1", "4_1", "5_1"}, {"4_2"});
}

struct Material {
  Chain chain = nineteenLayers();
  Image photo =
      rgbOf(readPicture(std::string(JUGENDSTIL_SHARE_SOURCE) + "/demo/photos/palm_house.jpg").image);
  std::vector<PaintReference> references{
      {rgbOf(
           readPicture(std::string(JUGENDSTIL_SHARE_SOURCE) + "/demo/references/evening_impasto.jpg").image),
       1}};
};

// Steps and bare convolutions in turn, because a machine's speed drifts.
double stepAgainstBare(const Material& m) {
  PaintSettings settings;
  settings.precision = PrecisionChoice::full;
  Easel easel(m.chain,
              measureReferences(m.chain, m.references, {512, 384}, 1, MeasureKind::gram, Precision::full),
              canvasOf(512, 384), settings);
  LevelRun run(easel, resizePhoto(m.photo, 512, 384));
  easel.hold(m.photo, 50);
  double step = 1e9;
  double bare = 1e9;
  int count = 0;
  for (int round = 0; round < 4; ++round) {
    bare = std::min(bare, bareConvolutions(m.chain, 512, 384, Precision::full).fastest);
    for (int i = 0; i < 4; ++i) {
      LossTerms loss;
      const auto begin = Clock::now();
      run.step(count, 1000, static_cast<std::uint64_t>(count), loss);
      ++count;
      step = std::min(step, since(begin));
    }
  }
  fmt::print("step {:.2f} s, bare convolutions {:.2f} s\n", step, bare);
  return step / bare;
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

}  // namespace

int main() {
  const Material m;
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
  const double tiled = peakMemory([] {
    setThreads(2);
    evaluate(2048, 1536, std::size_t{2500} << 20);
  });
  fmt::print("a painting of 512 pixels: {:.0f} MB told, {:.0f} MB taken\n", told, taken);
  report("memory told against taken", std::abs(told / taken - 1), "off", 0.1, true);
  report("peak memory at 2048x1536 in tiles", tiled, "MB", 3072, true);
  setThreads(2);
  report("step at 512x384 against its bare convolutions", stepAgainstBare(m), "times", 1.25, true);
}
