// SPDX-License-Identifier: Apache-2.0
#include "network/chain.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "base/error.h"

namespace jugendstil {

int inputOf(const Chain& chain, int layer) {
  const int named = chain.convolutions[layer].input;
  return named >= 0 ? named : layer - 1;
}

std::size_t Chain::bandIndex(const std::string& band) const {
  std::vector<std::string> names;
  for (std::size_t i = 0; i < bands.size(); ++i) {
    if (bands[i].name == band) return i;
    names.push_back(bands[i].name);
  }
  throw UsageError(fmt::format("the network has no band \"{}\"; it has {}", band, fmt::join(names, ", ")));
}

}  // namespace jugendstil
