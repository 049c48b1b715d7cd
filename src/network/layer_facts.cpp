// SPDX-License-Identifier: Apache-2.0
#include "network/layer_facts.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/number.h"

namespace jugendstil {

std::vector<LayerFacts> layerFacts(const Chain& chain, int width, int height) {
  std::vector<LayerFacts> all;
  int block = 1;
  int inBlock = 0;
  int stride = 1;
  int field = 1;
  for (const Convolution& conv : chain.convolutions) {
    LayerFacts facts;
    facts.pooling = conv.pooling;
    if (conv.pools()) {
      field += stride;
      stride *= 2;
      ++block;
      inBlock = 0;
    }
    field += (conv.kernel - 1) * stride;
    facts.number = fmt::format("{}_{}", block, ++inBlock);
    facts.name = conv.name;
    facts.kernel = conv.kernel;
    facts.inputs = conv.inputs;
    facts.outputs = conv.outputs;
    facts.stride = stride;
    facts.receptiveField = field;
    facts.weights = conv.weights.size() + conv.bias.size();
    const auto positions = static_cast<double>(cellCount(width / stride, height / stride));
    facts.bytes = positions * conv.outputs * sizeof(float);
    facts.products = positions * static_cast<double>(conv.weights.size());
    for (const Band& band : chain.bands) {
      if (band.layer != countOf(all)) continue;
      const auto has = [&](const std::vector<std::string>& names) {
        return std::find(names.begin(), names.end(), band.name) != names.end();
      };
      facts.band = band.name;
      facts.style = has(chain.styleBands);
      facts.content = has(chain.contentBands);
    }
    all.push_back(std::move(facts));
  }
  return all;
}

}  // namespace jugendstil
