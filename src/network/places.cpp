// SPDX-License-Identifier: Apache-2.0
#include "network/places.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "base/number.h"

namespace jugendstil {
namespace {

struct Counted {
  int rectified = 0;
  int leading = 0;  // since then, without a ReLU
};

// a to z, then za to zz, and so on.
std::string lettersOf(int index) {
  std::string letters(index / 26, 'z');
  return letters + static_cast<char>('a' + index % 26);
}

}  // namespace

std::vector<LayerPlace> placesOf(const Chain& chain) {
  std::vector<LayerPlace> places;
  std::map<int, Counted> counted;  // of each block
  std::vector<int> blocks;
  for (int i = 0; i < countOf(chain.convolutions); ++i) {
    const Convolution& conv = chain.convolutions[i];
    const int input = inputOf(chain, i);
    LayerPlace place = input < 0 ? LayerPlace{} : places[input];
    if (conv.pools()) {
      place.receptiveField += (conv.window.size - 1) * place.stride;
      place.stride *= 2;
    }
    place.receptiveField += (conv.kernel - 1) * place.stride;
    place.stride *= conv.stride;
    if (conv.plus >= 0)
      place.receptiveField = std::max(place.receptiveField, places[conv.plus].receptiveField);
    const int block = (input < 0 ? 1 : blocks[input]) + (conv.pools() || conv.stride > 1 ? 1 : 0);
    Counted& own = counted[block];
    // Layers without a ReLU have the number of the next one that has.
    if (conv.negativeSlope < 1) own.leading = 0;
    place.number = fmt::format("{}_{}", block, own.rectified + 1);
    if (conv.negativeSlope < 1)
      ++own.rectified;
    else
      place.number += lettersOf(own.leading++);
    blocks.push_back(block);
    places.push_back(std::move(place));
  }
  return places;
}

std::vector<LayerUse> usesOf(const Chain& chain) {
  std::vector<LayerUse> uses(chain.convolutions.size());
  for (const Band& band : chain.bands) {
    if (band.layer < countOf(uses)) uses[band.layer].band = true;
  }
  for (int i = 0; i < countOf(chain.convolutions); ++i) {
    const Convolution& conv = chain.convolutions[i];
    const int input = inputOf(chain, i);
    if (input >= 0 && input == i - 1 && conv.pools()) uses[input].pooled = true;
    if (input >= 0 && input != i - 1) uses[input].named = true;
    if (conv.plus >= 0) uses[conv.plus].named = true;
  }
  return uses;
}

bool keepsOutput(const Convolution& layer, const LayerUse& use) {
  // The way back through a ReLU asks for signs only.
  const bool leaks = layer.negativeSlope > 0 && layer.negativeSlope < 1;
  return use.band || use.pooled || use.named || leaks;
}

}  // namespace jugendstil
