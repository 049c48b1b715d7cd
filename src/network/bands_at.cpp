// SPDX-License-Identifier: Apache-2.0
#include "network/bands_at.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "base/error.h"
#include "base/words.h"
#include "network/layer_facts.h"

namespace jugendstil {
namespace {

// Of the chain's layers, by any of its names.
std::size_t layerNamed(const Chain& chain, const std::vector<LayerFacts>& layers, const std::string& name) {
  std::vector<std::string> bands;
  for (const Band& band : chain.bands) {
    if (band.name == name) return band.layer;
    bands.push_back(band.name);
  }
  std::vector<std::string> numbers;
  for (std::size_t i = 0; i < layers.size(); ++i) {
    if (layers[i].number == name || layers[i].name == name) return i;
    numbers.push_back(layers[i].number);
  }
  const std::string near = nearestWord(name, bands);
  throw UsageError(
      fmt::format("the network has no band or layer \"{}\"{}; it has the bands {} and the layers {}", name,
                  near.empty() ? "" : fmt::format(" (did you mean \"{}\"?)", near), fmt::join(bands, ", "),
                  fmt::join(numbers, ", ")));
}

std::vector<LayerFacts> layersOf(const Chain& chain) {
  constexpr int kAnySize = 1;
  return layerFacts(chain, kAnySize, kAnySize);
}

const Band* bandOfLayer(const Chain& chain, std::size_t layer) {
  const auto found = std::find_if(chain.bands.begin(), chain.bands.end(),
                                  [&](const Band& b) { return static_cast<std::size_t>(b.layer) == layer; });
  return found == chain.bands.end() ? nullptr : &*found;
}

// Their bands, once each, in the order of the chain.
std::vector<std::string> bandsAt(const Chain& chain, const std::vector<std::string>& layers) {
  std::vector<std::string> names;
  for (const std::string& layer : layers) {
    const std::string name = bandAt(chain, layer);
    if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
  }
  std::sort(names.begin(), names.end(), [&](const std::string& a, const std::string& b) {
    return chain.bands[chain.bandIndex(a)].layer < chain.bands[chain.bandIndex(b)].layer;
  });
  return names;
}

}  // namespace

std::string bandAt(const Chain& chain, const std::string& layer) {
  const Band* band = bandOfLayer(chain, layerNamed(chain, layersOf(chain), layer));
  if (band == nullptr) throw UsageError(fmt::format("the network has no band at the layer {}", layer));
  return band->name;
}

Chain withBandsAt(Chain chain, const std::vector<std::string>& layers) {
  const std::vector<LayerFacts> facts = layersOf(chain);
  for (const std::string& name : layers) {
    const std::size_t layer = layerNamed(chain, facts, name);
    if (bandOfLayer(chain, layer) != nullptr) continue;
    const LayerFacts& own = facts[layer];
    chain.bands.push_back({own.number, static_cast<int>(layer), own.outputs, own.stride, own.receptiveField});
  }
  return chain;
}

Chain measuredAt(Chain chain, const std::vector<std::string>& style,
                 const std::vector<std::string>& content) {
  if (style.empty() && content.empty()) return chain;
  chain = withBandsAt(withBandsAt(std::move(chain), style), content);
  if (!style.empty()) chain.styleBands = bandsAt(chain, style);
  if (!content.empty()) chain.contentBands = bandsAt(chain, content);
  std::erase_if(chain.bands, [&](const Band& band) {
    const auto among = [&](const std::vector<std::string>& names) {
      return std::find(names.begin(), names.end(), band.name) != names.end();
    };
    return !among(chain.styleBands) && !among(chain.contentBands);
  });
  return chain;
}

}  // namespace jugendstil
