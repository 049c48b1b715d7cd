// SPDX-License-Identifier: Apache-2.0
#include "learn/manner.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/number.h"

namespace jugendstil {
namespace {

// The largest band says what is depicted rather than how.
constexpr std::size_t kBands = 4;
// Added before the logarithm: mean activations are about 1, and what is much below counts as nothing.
constexpr double kNothing = 0.02;

}  // namespace

std::vector<float> mannerOf(const ReferenceTargets& targets, double likeness) {
  std::vector<float> manner;
  for (std::size_t b = 0; b < std::min(kBands, targets.bands.size()); ++b) {
    const std::vector<float> mean = targets.bands[b].mean();
    const std::vector<float> gram = targets.bands[b].gram();
    for (std::size_t c = 0; c < mean.size(); ++c) {
      const double square = gram[c * mean.size() + c];
      const double deviation = std::sqrt(std::max(0.0, square - double{mean[c]} * mean[c]));
      manner.push_back(static_cast<float>(std::log(mean[c] + kNothing)));
      manner.push_back(static_cast<float>(std::log(deviation + kNothing)));
    }
  }
  manner.push_back(static_cast<float>(likeness / 100));
  return manner;
}

std::size_t MannerNet::parameterCount() const {
  return cellCount(hidden, inputs() + 1) + cellCount(outputs, hidden + 1);
}

MannerNet mannerNet(std::vector<float> centre, std::vector<float> spread, const std::vector<float>& first,
                    std::uint64_t seed) {
  constexpr int kHidden = 64;
  MannerNet net{kHidden, std::move(centre), std::move(spread), static_cast<int>(first.size()), {}};
  net.parameters.assign(net.parameterCount(), 0.0F);
  std::mt19937_64 random(seed);
  const float deviation = std::sqrt(2.0F / static_cast<float>(net.inputs()));
  for (std::size_t i = 0; i < cellCount(kHidden, net.inputs()); ++i)
    net.parameters[i] = deviation * drawnNormal(random);
  std::copy(first.begin(), first.end(), net.parameters.end() - net.outputs);
  return net;
}

std::vector<std::size_t> normalisationPlaces(const Net& net) {
  std::vector<std::size_t> places;
  for (int layer = 0; layer < static_cast<int>(net.layers.size()); ++layer) {
    if (net.layers[layer].kind != NetLayer::Kind::normalisation) continue;
    for (std::size_t i = 0; i < net.parameterCount(layer); ++i)
      places.push_back(net.firstParameter(layer) + i);
  }
  return places;
}

const std::vector<float>& MannerPass::forward(std::span<const float> manner) {
  const std::size_t inputs = net_.centre.size();
  if (manner.size() != inputs)
    throw Error(fmt::format("a manner of {} numbers was given where {} are taken", manner.size(), inputs));
  input_.resize(inputs);
  for (std::size_t i = 0; i < inputs; ++i) input_[i] = (manner[i] - net_.centre[i]) / net_.spread[i];
  const float* weights = net_.parameters.data();
  const float* bias = weights + cellCount(net_.hidden, net_.inputs());
  hidden_.resize(net_.hidden);
  for (int h = 0; h < net_.hidden; ++h) {
    double sum = bias[h];
    for (std::size_t i = 0; i < inputs; ++i) sum += double{weights[h * inputs + i]} * input_[i];
    hidden_[h] = static_cast<float>(std::max(0.0, sum));
  }
  weights = bias + net_.hidden;
  bias = weights + cellCount(net_.outputs, net_.hidden);
  output_.resize(net_.outputs);
  for (int o = 0; o < net_.outputs; ++o) {
    double sum = bias[o];
    for (int h = 0; h < net_.hidden; ++h) sum += double{weights[cellAt(h, o, net_.hidden)]} * hidden_[h];
    output_[o] = static_cast<float>(sum);
  }
  return output_;
}

void MannerPass::backward(std::span<const float> gradient, std::span<float> parameterGradient) const {
  const std::size_t inputs = input_.size();
  const std::size_t firstBias = cellCount(net_.hidden, net_.inputs());
  const std::size_t second = firstBias + net_.hidden;
  const std::size_t secondBias = second + cellCount(net_.outputs, net_.hidden);
  std::vector<float> slope(net_.hidden);
  for (int o = 0; o < net_.outputs; ++o) {
    parameterGradient[secondBias + o] += gradient[o];
    for (int h = 0; h < net_.hidden; ++h) {
      const std::size_t at = second + cellAt(h, o, net_.hidden);
      parameterGradient[at] += gradient[o] * hidden_[h];
      slope[h] += gradient[o] * net_.parameters[at];
    }
  }
  for (int h = 0; h < net_.hidden; ++h) {
    if (hidden_[h] <= 0) continue;
    parameterGradient[firstBias + h] += slope[h];
    for (std::size_t i = 0; i < inputs; ++i) parameterGradient[h * inputs + i] += slope[h] * input_[i];
  }
}

}  // namespace jugendstil
