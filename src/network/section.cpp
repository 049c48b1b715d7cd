// SPDX-License-Identifier: Apache-2.0
#include "network/section.h"

#include <algorithm>

#include "base/number.h"

namespace jugendstil {
namespace {

std::size_t bytesOf(Precision precision) { return precision == Precision::half ? 2 : 4; }

int roundUp(int value, int unit) { return (value + unit - 1) / unit * unit; }

// What is wrong at a window's edge grows with every convolution and is rounded up with every pool.
int reachOf(const Section& section) {
  int stride = section.stride;
  int reach = 0;
  for (const Convolution& conv : section.chain.convolutions) {
    if (conv.pools()) {
      stride *= 2;
      reach = roundUp(reach, stride);
    }
    reach += conv.kernel / 2 * stride;
  }
  return reach;
}

// Layers from `first` to before `end`.
Section sectionFrom(const Chain& chain, const std::vector<std::size_t>& bands, std::size_t first,
                    std::size_t end, int stride) {
  Section section;
  section.stride = stride;
  section.chain.name = chain.name;
  if (first == 0) {
    section.chain.mean = chain.mean;
    section.chain.scale = chain.scale;
  }
  const auto at = [&](std::size_t layer) { return chain.convolutions.begin() + layer; };
  section.chain.convolutions.assign(at(first), at(end));
  section.chain.convolutions.front().pooling = Pooling::none;
  for (const std::size_t b : bands) {
    Band band = chain.bands.at(b);
    const std::size_t layer = band.layer;
    if (layer < first || layer >= end) continue;
    band.layer -= static_cast<int>(first);
    band.stride /= stride;
    section.chain.bands.push_back(band);
    section.bands.push_back(b);
  }
  section.reach = reachOf(section);
  return section;
}

}  // namespace

int Section::lastStride() const {
  const auto pools = std::count_if(chain.convolutions.begin(), chain.convolutions.end(),
                                   [](const Convolution& c) { return c.pools(); });
  return stride << (pools + (pooled() ? 1 : 0));
}

double Section::work() const {
  double area = 1.0 / (stride * stride);
  double sum = 0;
  for (const Convolution& conv : chain.convolutions) {
    if (conv.pools()) area /= 4;
    sum += area * static_cast<double>(conv.weights.size());
  }
  return sum;
}

std::size_t Section::memory(int width, int height, Precision precision) const {
  std::size_t bytes = Evaluator::memoryFor(chain, width / stride, height / stride, precision);
  // What is pooled at the end is kept for the way back, band or not.
  const auto last = countOf(chain.convolutions) - 1;
  const bool band =
      std::any_of(chain.bands.begin(), chain.bands.end(), [&](const Band& b) { return b.layer == last; });
  if (pooled() && !band) bytes += 4 * pooledMemory(width, height, precision);
  return bytes;
}

std::size_t Section::pooledMemory(int width, int height, Precision precision) const {
  if (!pooled()) return 0;
  const std::size_t positions = cellCount(width / lastStride(), height / lastStride());
  return positions * chain.convolutions.back().outputs * bytesOf(precision);
}

std::vector<Section> sectionsOf(const Chain& chain, const std::vector<std::size_t>& bands,
                                const std::vector<std::size_t>& cuts) {
  std::size_t end = 0;
  for (const std::size_t b : bands)
    end = std::max(end, static_cast<std::size_t>(chain.bands.at(b).layer) + 1);
  std::vector<Section> sections;
  std::size_t first = 0;
  int stride = 1;
  for (const std::size_t cut : cuts) {
    if (cut >= end) break;
    sections.push_back(sectionFrom(chain, bands, first, cut, stride));
    sections.back().handsOn = chain.convolutions[cut].pooling;
    stride = sections.back().lastStride();
    first = cut;
  }
  sections.push_back(sectionFrom(chain, bands, first, end, stride));
  return sections;
}

}  // namespace jugendstil
