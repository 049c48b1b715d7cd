// SPDX-License-Identifier: Apache-2.0
#include "weave/places.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "base/parallel.h"
#include "weave/block.h"

namespace jugendstil {
namespace {

// Bins along each of three axes, and how wide they are. What lies beyond goes into the outermost.
constexpr int kBins = 48;
constexpr float kBinWidth = 0.1F;
// Places are looked at until there are so many; from one bin about so many at most.
constexpr std::size_t kEnough = 1500;
constexpr std::size_t kMostOfBin = 1000;

using Bin = std::array<int, 3>;

int binOf(float value) {
  return std::clamp(static_cast<int>(std::floor(value / kBinWidth)) + kBins / 2, 0, kBins - 1);
}

bool isBin(const Bin& bin) {
  return std::all_of(bin.begin(), bin.end(), [](int at) { return at >= 0 && at < kBins; });
}

std::size_t numberOf(const Bin& bin) { return cellAt(bin[2], bin[0] * kBins + bin[1], kBins); }

// Calls look(bin) for all that are so many bins away.
template <typename Look>
void eachOfShell(const Bin& centre, int shell, const Look& look) {
  for (int x = -shell; x <= shell; ++x) {
    for (int y = -shell; y <= shell; ++y) {
      const bool face = std::max(std::abs(x), std::abs(y)) == shell;
      for (int z = -shell; z <= shell; z += face ? 1 : 2 * shell) {
        const Bin bin{centre[0] + x, centre[1] + y, centre[2] + z};
        if (isBin(bin)) look(bin);
      }
    }
  }
}

}  // namespace

PlaceIndex::PlaceIndex(const Atlas& atlas, int side)
    : atlas_(atlas), half_(side / 2), places_(placesFor(atlas, side)) {
  sortIntoBins(meanQuarters());
}

// Of each spot, the map's mean over the quarter of a block that begins there.
std::vector<float> PlaceIndex::meanQuarters() const {
  std::vector<float> means(atlas_.map.size(), 0.0F);
  const float each = 1 / static_cast<float>(half_ * half_);
  parallelFor(atlas_.height - half_, [&](int y) {
    for (int x = 0; x + half_ < atlas_.width; ++x) {
      float* to = &means[std::size_t{atlas_.spot(x, y)} * kFeatures];
      for (int dy = 0; dy < half_; ++dy) {
        const float* from = &atlas_.map[std::size_t{atlas_.spot(x, y + dy)} * kFeatures];
        for (std::size_t i = 0; i < kFeatures * half_; ++i) to[i % kFeatures] += each * from[i];
      }
    }
  });
  return means;
}

PlaceIndex::Quarters PlaceIndex::quartersAt(Spot place, const std::vector<float>& means) const {
  Quarters quarters{};
  for (int q = 0; q < 4; ++q) {
    const Spot spot = atlas_.beside(place, q % 2 * half_, q / 2 * half_);
    std::copy_n(&means[std::size_t{spot} * kFeatures], kFeatures, quarters[q].begin());
  }
  return quarters;
}

void PlaceIndex::sortIntoBins(const std::vector<float>& means) {
  std::vector<std::uint32_t> bins(places_.size());
  parallelFor(places_.size(), [&](std::size_t p) {
    std::array<float, 3> mean{};
    for (const auto& quarter : quartersAt(places_[p], means)) {
      for (std::size_t c = 0; c < 3; ++c) mean[c] += quarter[c] / 4;
    }
    bins[p] = static_cast<std::uint32_t>(numberOf({binOf(mean[0]), binOf(mean[1]), binOf(mean[2])}));
  });
  bins_.assign(std::size_t{kBins} * kBins * kBins + 1, 0);
  for (const std::uint32_t bin : bins) ++bins_[bin + 1];
  for (std::size_t b = 1; b < bins_.size(); ++b) bins_[b] += bins_[b - 1];
  std::vector<std::size_t> next(bins_.begin(), bins_.end() - 1);
  std::vector<Spot> sorted(places_.size());
  for (std::size_t p = 0; p < places_.size(); ++p) sorted[next[bins[p]]++] = places_[p];
  places_ = std::move(sorted);
  quarters_.resize(places_.size());
  parallelFor(places_.size(), [&](std::size_t p) { quarters_[p] = quartersAt(places_[p], means); });
}

void PlaceIndex::collect(std::size_t bin, const BlockLook& look, std::uint64_t dice,
                         std::vector<Found>& found) const {
  const std::size_t stride = std::max<std::size_t>(1, (bins_[bin + 1] - bins_[bin]) / kMostOfBin);
  for (std::size_t p = bins_[bin] + dice % stride; p < bins_[bin + 1]; p += stride) {
    float cost = 0;
    for (std::size_t q = 0; q < 4; ++q) {
      float sum = 0;
      for (std::size_t c = 0; c < kFeatures; ++c) {
        const float d = look.quarters[q][c] - quarters_[p][q][c];
        sum += d * d;
      }
      cost += look.weights[q] * sum;
    }
    found.push_back({cost, places_[p]});
  }
}

std::vector<Spot> PlaceIndex::nearest(const BlockLook& look, std::uint64_t dice) const {
  std::array<float, 3> mean{};
  float weight = 1e-6F;
  for (std::size_t q = 0; q < 4; ++q) {
    for (std::size_t c = 0; c < 3; ++c) mean[c] += look.weights[q] * look.quarters[q][c];
    weight += look.weights[q];
  }
  const Bin centre{binOf(mean[0] / weight), binOf(mean[1] / weight), binOf(mean[2] / weight)};
  std::vector<Found> found;
  for (int shell = 0; shell < kBins && found.size() < kEnough; ++shell)
    eachOfShell(centre, shell, [&](const Bin& bin) { collect(numberOf(bin), look, dice, found); });
  if (found.size() > kFound) {
    std::nth_element(found.begin(), found.begin() + kFound, found.end(), [](const Found& a, const Found& b) {
      return a.cost != b.cost ? a.cost < b.cost : a.place < b.place;
    });
    found.resize(kFound);
  }
  std::vector<Spot> places;
  for (const Found& f : found) places.push_back(f.place);
  std::sort(places.begin(), places.end());
  return places;
}

}  // namespace jugendstil
