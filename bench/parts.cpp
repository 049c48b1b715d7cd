// SPDX-License-Identifier: Apache-2.0
// Times of single parts of a step at 512x384, with Google Benchmark: jugendstil_parts
#include <benchmark/benchmark.h>

#include "base/parallel.h"
#include "image/picture_file.h"
#include "network/chain_file.h"
#include "paint/easel.h"

namespace {

using namespace jugendstil;

constexpr int kWidth = 512;
constexpr int kHeight = 384;

const Chain& chain() {
  static const Chain loaded = readOnnx(std::string(JUGENDSTIL_SHARE_SOURCE) + "/networks/filigree.onnx");
  return loaded;
}

Planes planes() {
  Planes p(kWidth, kHeight);
  for (std::size_t c = 0; c < 3; ++c) {
    for (std::size_t i = 0; i < p.area(); ++i)
      p.plane[c][i] = static_cast<float>((i * 2654435761U + c * 97U) % 1000U) / 1000.0F;
  }
  return p;
}

Precision precision() { return chosenPrecision(PrecisionChoice::automatic); }

Evaluator evaluator() {
  std::vector<std::size_t> bands;
  for (std::size_t b = 0; b < chain().bands.size(); ++b) bands.push_back(b);
  return {chain(), kWidth, kHeight, precision(), bands};
}

void forward(benchmark::State& state) {
  Evaluator e = evaluator();
  const Planes p = planes();
  for (auto _ : state) e.forward(p.plane[0], p.plane[1], p.plane[2]);
}

void backwardAlone(benchmark::State& state) {
  Evaluator e = evaluator();
  Planes p = planes();
  e.forward(p.plane[0], p.plane[1], p.plane[2]);
  for (auto _ : state) e.backward([](std::size_t, BandGradient&) {}, p.plane[0], p.plane[1], p.plane[2]);
}

// Grams are computed once a pass, so they are timed with it.
void forwardAndGrams(benchmark::State& state) {
  Evaluator e = evaluator();
  const Planes p = planes();
  for (auto _ : state) {
    e.forward(p.plane[0], p.plane[1], p.plane[2]);
    for (const std::string& name : chain().styleBands)
      benchmark::DoNotOptimize(e.gram(chain().bandIndex(name)));
  }
}

// Takes a gradient and drops it.
class Nowhere final : public BandGradient {
 public:
  void addLinear(std::span<const float>, std::span<const float>, std::span<const float>,
                 std::span<const float>) override {}
  void addProjected(std::span<const float>, std::span<const float>) override {}
  void addAt(std::span<const int>, std::span<const float>) override {}
  void addDifference(const KeptActivation&, float) override {}
};

void content(benchmark::State& state) {
  Evaluator e = evaluator();
  const Planes p = planes();
  e.forward(p.plane[0], p.plane[1], p.plane[2]);
  const auto kind = static_cast<ContentKind>(state.range(0));
  const auto term = makeContent(kind, e, chain().bandIndex("subject"), 1);
  for (auto _ : state) benchmark::DoNotOptimize(term->value(e));
}

void contentGradient(benchmark::State& state) {
  Evaluator e = evaluator();
  const Planes p = planes();
  e.forward(p.plane[0], p.plane[1], p.plane[2]);
  const auto term = makeContent(ContentKind::structure, e, chain().bandIndex("subject"), 1);
  term->value(e);
  Nowhere nowhere;
  for (auto _ : state) term->addGradient(1, nowhere);
}

void colour(benchmark::State& state) {
  const Planes p = planes();
  Planes gradient(kWidth, kHeight);
  ColourTerm term(colourSamples({p}, {1.0}, 32768), 1);
  std::uint64_t step = 0;
  for (auto _ : state) benchmark::DoNotOptimize(term.evaluate(p, 1, ++step, gradient));
}

void smooth(benchmark::State& state) {
  const Planes p = planes();
  Planes gradient(kWidth, kHeight);
  for (auto _ : state) benchmark::DoNotOptimize(smoothness(p, 0.3, 1.0, gradient));
}

void pyramid(benchmark::State& state) {
  const Pyramid pyramid(kWidth, kHeight);
  Planes p = planes();
  auto coefficients = pyramid.decompose(p);
  for (auto _ : state) {
    pyramid.reconstruct(coefficients, p);
    pyramid.pullBack(p, coefficients);
  }
}

void adam(benchmark::State& state) {
  const Pyramid pyramid(kWidth, kHeight);
  std::vector<float> x(pyramid.size(), 0.5F);
  const std::vector<float> g(pyramid.size(), 0.001F);
  Adam solver(x.size(), {});
  for (auto _ : state) {
    solver.beginStep();
    for (const auto& r : pyramid.ranges()) {
      const std::size_t count = r.end - r.begin;
      solver.move(std::span(x).subspan(r.begin, count), std::span(g).subspan(r.begin, count), r.begin,
                  0.001F);
    }
  }
}

BENCHMARK(forward)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(backwardAlone)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(forwardAndGrams)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(content)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(contentGradient)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(colour)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(smooth)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(pyramid)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(adam)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace

BENCHMARK_MAIN();
