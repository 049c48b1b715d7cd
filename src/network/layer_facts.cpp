// SPDX-License-Identifier: Apache-2.0
#include "network/layer_facts.h"

#include <algorithm>

#include "base/number.h"
#include "network/places.h"

namespace jugendstil {

std::vector<LayerFacts> layerFacts(const Chain& chain, int width, int height) {
  std::vector<LayerFacts> all;
  const std::vector<LayerPlace> places = placesOf(chain);
  for (const Convolution& conv : chain.convolutions) {
    const LayerPlace& place = places[all.size()];
    LayerFacts facts;
    facts.number = place.number;
    facts.name = conv.name;
    facts.kernel = conv.kernel;
    facts.inputs = conv.inputs;
    facts.outputs = conv.outputs;
    facts.pooling = conv.pooling;
    facts.window = conv.window.size;
    facts.step = conv.stride;
    facts.negativeSlope = conv.negativeSlope;
    if (conv.input >= 0 && conv.input != countOf(all) - 1) facts.input = places[conv.input].number;
    if (conv.plus >= 0) facts.plus = places[conv.plus].number;
    facts.stride = place.stride;
    facts.receptiveField = place.receptiveField;
    facts.weights = conv.weights.size() + conv.bias.size();
    const auto positions = static_cast<double>(cellCount(width / place.stride, height / place.stride));
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
