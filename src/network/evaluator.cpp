// SPDX-License-Identifier: Apache-2.0
#include "network/evaluator.h"

#include <fmt/format.h>

#include <algorithm>
#include <dnnl.hpp>

#include "base/error.h"
#include "network/convolution.h"
#include "network/evaluator_engine.h"
#include "network/places.h"

namespace jugendstil {

bool processorHasHalf() {
  const auto isa = dnnl::get_effective_cpu_isa();
  return isa == dnnl::cpu_isa::avx512_core_bf16 || isa == dnnl::cpu_isa::avx512_core_amx;
}

Evaluator::Evaluator(const Chain& chain, int width, int height, Precision precision,
                     const std::vector<std::size_t>& bands, std::size_t budget) {
  try {
    if (budget > 0 && memoryFor(chain, width, height, precision) > budget)
      engine_ = makeTiledEvaluator(chain, width, height, precision, bands, budget);
    else
      engine_ = makeWholeEvaluator(chain, width, height, precision, bands);
  } catch (const dnnl::error& e) {
    throw Error(fmt::format("cannot set up the network for {}x{} pixels{}; try a smaller long edge", width,
                            height, e.status == dnnl_out_of_memory ? ", there is not enough memory" : ""));
  }
}

Evaluator::~Evaluator() = default;
Evaluator::Evaluator(Evaluator&&) noexcept = default;

int Evaluator::width() const { return engine_->width(); }
int Evaluator::height() const { return engine_->height(); }
BandShape Evaluator::shape(std::size_t band) const { return engine_->shape(band); }

void Evaluator::forward(std::span<const float> red, std::span<const float> green,
                        std::span<const float> blue) {
  engine_->forward({red, green, blue});
}

const std::vector<float>& Evaluator::gram(std::size_t band) { return engine_->moments(band).gram; }
const std::vector<float>& Evaluator::mean(std::size_t band) { return engine_->moments(band).mean; }

BandMoments Evaluator::weightedMoments(std::size_t band, std::span<const float> weights) {
  return engine_->weightedMoments(band, weights);
}

std::vector<float> Evaluator::activations(std::size_t band) const { return engine_->activations(band); }

KeptActivation Evaluator::keep(std::size_t band) const { return engine_->keep(band); }

double Evaluator::squaredDistance(std::size_t band, const KeptActivation& kept) const {
  return engine_->squaredDistance(band, kept);
}

std::vector<float> Evaluator::gather(std::size_t band, std::span<const int> positions) const {
  return engine_->gather(band, positions);
}

std::vector<float> Evaluator::project(std::size_t band, std::span<const float> directions) {
  return engine_->project(band, directions);
}

void Evaluator::backward(const FillGradient& fill, std::span<float> red, std::span<float> green,
                         std::span<float> blue) {
  engine_->backward(fill, {red, green, blue});
}

std::size_t Evaluator::memoryFor(const Chain& chain, int width, int height, Precision precision) {
  const double bytes = precision == Precision::half ? 2 : 4;
  const std::vector<LayerPlace> places = placesOf(chain);
  const std::vector<LayerUse> uses = usesOf(chain);
  double values = 1.0 * width * height * chain.convolutions.front().inputs;
  double largest = 0;
  std::vector<std::pair<double, double>> outputs;  // values and scratchpad of each layer
  for (std::size_t i = 0; i < chain.convolutions.size(); ++i) {
    const Convolution& conv = chain.convolutions[i];
    const double area = 1.0 * width * height / (places[i].stride * places[i].stride);
    // Of a layer that nothing but the next one asks for only signs are kept; of one that is pooled both.
    const bool kept = keepsOutput(conv, uses[i]);
    const double signs = uses[i].pooled || !kept ? 1 / (8 * bytes) : 0;
    values += area * conv.outputs * ((kept ? 1 : 0) + (uses[i].named ? 1 : 0) + signs);
    largest = std::max(largest, area * conv.outputs);
    values += 2.0 * static_cast<double>(conv.weights.size());
    const std::size_t scratch = precision == Precision::full ? scratchpadFor(conv, area) : 0;
    outputs.emplace_back(area * conv.outputs, static_cast<double>(scratch));
  }
  // A scratchpad lies in what a gradient buffer has more than its layer needs, or else by itself.
  double more = 0;
  for (const auto& [own, scratch] : outputs) {
    if (scratch > (largest - own) * bytes) more = std::max(more, scratch);
  }
  return static_cast<std::size_t>((values + 2.25 * largest) * bytes + more);
}

}  // namespace jugendstil
