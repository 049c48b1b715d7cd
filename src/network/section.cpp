// SPDX-License-Identifier: Apache-2.0
#include "network/section.h"

#include <algorithm>

#include "base/number.h"
#include "network/places.h"

namespace jugendstil {
namespace {

std::size_t bytesOf(Precision precision) { return precision == Precision::half ? 2 : 4; }

int roundUp(int value, int unit) { return (value + unit - 1) / unit * unit; }

// What is wrong at a window's edge grows with every convolution and is rounded up with every step to fewer
// positions.
int reachOf(const Section& section) {
  std::vector<int> reaches;
  std::vector<int> strides;
  int most = 0;
  for (int i = 0; i < countOf(section.chain.convolutions); ++i) {
    const Convolution& conv = section.chain.convolutions[i];
    const int input = inputOf(section.chain, i);
    int stride = input < 0 ? section.stride : strides[input];
    int reach = input < 0 ? 0 : reaches[input];
    if (conv.pools()) {
      reach = roundUp(reach + (conv.window.size - 2) * stride, 2 * stride);
      stride *= 2;
    }
    reach += std::max(conv.before(), conv.kernel - 1 - conv.before()) * stride;
    if (conv.stride > 1) {
      stride *= conv.stride;
      reach = roundUp(reach, stride);
    }
    if (conv.plus >= 0) reach = std::max(reach, reaches[conv.plus]);
    most = std::max(most, reach);
    reaches.push_back(reach);
    strides.push_back(stride);
  }
  return most;
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
  for (Convolution& conv : section.chain.convolutions) {
    for (int* named : {&conv.input, &conv.plus}) *named = std::max(-1, *named - static_cast<int>(first));
  }
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

int Section::lastStride() const { return stride * placesOf(chain).back().stride * (pooled() ? 2 : 1); }

int Section::coarsestStride() const {
  int most = 1;
  for (const LayerPlace& place : placesOf(chain)) most = std::max(most, place.stride);
  return stride * most;
}

double Section::work() const {
  const std::vector<LayerPlace> places = placesOf(chain);
  double sum = 0;
  for (std::size_t i = 0; i < places.size(); ++i) {
    const double across = stride * places[i].stride;
    sum += static_cast<double>(chain.convolutions[i].weights.size()) / (across * across);
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

std::vector<std::size_t> cutsOf(const Chain& chain) {
  std::vector<std::size_t> cuts;
  for (int i = 1; i < countOf(chain.convolutions); ++i) {
    const Convolution& conv = chain.convolutions[i];
    if (!conv.pools() || conv.window.size != 2 || inputOf(chain, i) != i - 1) continue;
    bool closed = conv.plus < 0;
    for (int k = i + 1; k < countOf(chain.convolutions); ++k) {
      const int plus = chain.convolutions[k].plus;
      closed = closed && inputOf(chain, k) >= i && (plus < 0 || plus >= i);
    }
    if (closed) cuts.push_back(i);
  }
  return cuts;
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
