// SPDX-License-Identifier: Apache-2.0
#include "style/surface.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>
#include <utility>

#include "base/parallel.h"

namespace jugendstil {
namespace {

constexpr double kColourScale = 0.05;
constexpr std::size_t kColourPool = 64;
constexpr std::size_t kColourDirections = 4;

JUGENDSTIL_VECTORISED
void dot3(const float* a, const float* b, const float* c, const float* v, float* out, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) out[i] = v[0] * a[i] + v[1] * b[i] + v[2] * c[i];
}

JUGENDSTIL_VECTORISED
void addScaled(float* to, const float* from, float scale, std::size_t n) {
  for (std::size_t i = 0; i < n; ++i) to[i] += scale * from[i];
}

}  // namespace

ColourTerm::ColourTerm(const std::vector<float>& samples, std::uint64_t seed,
                       std::vector<std::uint32_t> places)
    : pool_(samples, 3, kColourPool, seed), seed_(seed), places_(std::move(places)) {}

namespace {

constexpr std::size_t kBlock = 4096;

// The picture's colours along some directions, block by block: they are found anew in every pass, because a
// large picture's would be as much again to hold.
class Projections {
 public:
  Projections(const Planes& opponent, const std::vector<std::uint32_t>& places,
              std::vector<std::array<float, 3>> directions)
      : opponent_(opponent), places_(places), directions_(std::move(directions)) {}

  std::size_t count() const { return places_.empty() ? opponent_.area() : places_.size(); }
  std::size_t directions() const { return directions_.size(); }
  int blocks() const { return static_cast<int>((count() + kBlock - 1) / kBlock); }

  std::span<float> along(std::size_t k, int block, std::array<float, kBlock>& values) const {
    const auto [begin, n] = part(block);
    const auto& v = directions_[k];
    const auto& p = opponent_.plane;
    if (places_.empty()) {
      dot3(&p[0][begin], &p[1][begin], &p[2][begin], v.data(), values.data(), n);
    } else {
      for (std::size_t i = 0; i < n; ++i) {
        const std::size_t at = places_[begin + i];
        values[i] = v[0] * p[0][at] + v[1] * p[1][at] + v[2] * p[2][at];
      }
    }
    return {values.data(), n};
  }

  // Adds scale times the values along a direction back onto the planes.
  void addBack(std::size_t k, int block, std::span<const float> values, float scale, Planes& planes) const {
    const std::size_t begin = part(block).first;
    for (std::size_t c = 0; c < 3; ++c) {
      float* to = planes.plane[c].data();
      const float share = scale * directions_[k][c];
      if (places_.empty()) {
        addScaled(to + begin, values.data(), share, values.size());
      } else {
        for (std::size_t i = 0; i < values.size(); ++i) to[places_[begin + i]] += share * values[i];
      }
    }
  }

 private:
  std::pair<std::size_t, std::size_t> part(int block) const {
    const std::size_t begin = block * kBlock;
    return {begin, std::min(kBlock, count() - begin)};
  }

  const Planes& opponent_;
  const std::vector<std::uint32_t>& places_;
  std::vector<std::array<float, 3>> directions_;
};

// Where the values along each direction lie.
std::vector<TransportMap> rangesOf(const Projections& projections) {
  const std::size_t blocks = projections.blocks();
  std::vector<std::pair<float, float>> ranges(blocks * projections.directions());
  parallelFor(projections.blocks(), [&](int b) {
    std::array<float, kBlock> values;
    for (std::size_t k = 0; k < projections.directions(); ++k)
      ranges[k * blocks + b] = rangeOf(projections.along(k, b, values));
  });
  std::vector<TransportMap> maps;
  for (std::size_t k = 0; k < projections.directions(); ++k) {
    auto all = ranges[k * blocks];
    for (std::size_t b = 1; b < blocks; ++b) {
      all.first = std::min(all.first, ranges[k * blocks + b].first);
      all.second = std::max(all.second, ranges[k * blocks + b].second);
    }
    maps.emplace_back(all.first, all.second);
  }
  return maps;
}

// Counts along every direction, one after the other. They are whole numbers, so it does not matter how the
// blocks are shared out.
std::vector<std::uint32_t> countsOf(const Projections& projections, const std::vector<TransportMap>& maps) {
  const std::size_t size = maps.size() * TransportMap::kBins;
  const int parts = std::max(1, std::min(projections.blocks(), threadCount()));
  std::vector<std::vector<std::uint32_t>> counts(parts);
  parallelFor(parts, [&](int p) {
    auto& own = counts[p];
    own.assign(size, 0);
    std::array<float, kBlock> values;
    for (int b = p; b < projections.blocks(); b += parts) {
      for (std::size_t k = 0; k < maps.size(); ++k)
        maps[k].count(projections.along(k, b, values),
                      std::span(own).subspan(k * TransportMap::kBins, TransportMap::kBins));
    }
  });
  for (std::size_t p = 1; p < counts.size(); ++p) {
    for (std::size_t i = 0; i < size; ++i) counts[0][i] += counts[p][i];
  }
  return std::move(counts[0]);
}

}  // namespace

double ColourTerm::evaluate(const Planes& opponent, double weight, std::uint64_t step, Planes& gradient) {
  const auto drawn = pool_.draw(kColourDirections, seed_ + step * 0x9E3779B97F4A7C15ULL);
  std::vector<std::array<float, 3>> directions;
  for (const std::size_t d : drawn) {
    const auto v = pool_.direction(d);
    directions.push_back({v[0], v[1], v[2]});
  }
  const Projections projections(opponent, places_, std::move(directions));
  std::vector<TransportMap> maps = rangesOf(projections);
  const std::vector<std::uint32_t> counts = countsOf(projections, maps);
  for (std::size_t k = 0; k < maps.size(); ++k)
    maps[k].settle(std::span(counts).subspan(k * TransportMap::kBins, TransportMap::kBins),
                   pool_.quantiles(drawn[k]));
  const double share =
      1.0 / (kColourScale * static_cast<double>(drawn.size()) * static_cast<double>(projections.count()));
  const auto scale = static_cast<float>(weight * share * 2.0);
  std::vector<double> squares(projections.blocks());
  parallelFor(projections.blocks(), [&](int b) {
    std::array<float, kBlock> values;
    for (std::size_t k = 0; k < maps.size(); ++k) {
      const std::span<float> own = projections.along(k, b, values);
      squares[b] += maps[k].residual(own);
      projections.addBack(k, b, own, scale, gradient);
    }
  });
  double sum = 0;
  for (const double s : squares) sum += s;
  return sum * share;
}

std::vector<float> colourSamples(const std::vector<Planes>& references, const std::vector<double>& shares,
                                 std::size_t count) {
  double total = 0;
  for (const double s : shares) total += s;
  std::vector<float> rows;
  rows.reserve(count * 3);
  for (std::size_t r = 0; r < references.size(); ++r) {
    const Planes& p = references[r];
    const auto take =
        std::max<std::size_t>(1, static_cast<std::size_t>(static_cast<double>(count) * shares[r] / total));
    for (std::size_t i = 0; i < take; ++i) {
      // Steps by the golden ratio visit the picture evenly whatever its width.
      const double place = std::fmod((static_cast<double>(i) + 0.5) * 0.61803398874989485, 1.0);
      const std::size_t at =
          std::min(static_cast<std::size_t>(place * static_cast<double>(p.area())), p.area() - 1);
      for (std::size_t c = 0; c < 3; ++c) rows.push_back(p.plane[c][at]);
    }
  }
  return rows;
}

namespace {

// Differences towards the right and below of one row, and the gradient that reaches this row from all four
// neighbours.
JUGENDSTIL_VECTORISED
float smoothRow(const float* here, const float* above, const float* below, float* gradient, float scale,
                std::size_t n) {
  float sum = 0;
  // At the first and last rows a row is its own neighbour: no difference, no gradient.
  above = above == nullptr ? here : above;
  below = below == nullptr ? here : below;
#pragma omp simd reduction(+ : sum)
  for (std::size_t x = 0; x < n; ++x) {
    const float up = here[x] - above[x];
    const float down = below[x] - here[x];
    gradient[x] += scale * (up - down);
    sum += down * down;
  }
  for (std::size_t x = 1; x + 1 < n; ++x) gradient[x] += scale * (2 * here[x] - here[x - 1] - here[x + 1]);
#pragma omp simd reduction(+ : sum)
  for (std::size_t x = 0; x < n - 1; ++x) {
    const float right = here[x + 1] - here[x];
    sum += right * right;
  }
  if (n > 1) {
    gradient[0] -= scale * (here[1] - here[0]);
    gradient[n - 1] += scale * (here[n - 1] - here[n - 2]);
  }
  return sum;
}

JUGENDSTIL_VECTORISED
float rangeRow(const float* v, float* gradient, float scale, std::size_t n) {
  float sum = 0;
#pragma omp simd reduction(+ : sum)
  for (std::size_t i = 0; i < n; ++i) {
    const float low = v[i] < 0 ? v[i] : 0.0F;
    const float high = v[i] > 1 ? v[i] - 1 : 0.0F;
    const float out = low + high;
    gradient[i] += scale * out;
    sum += out * out;
  }
  return sum;
}

template <typename Row>
double sumRows(int height, const Row& row) {
  std::vector<double> sums(height);
  parallelFor(height, [&](int y) { sums[y] = row(y); });
  double total = 0;
  for (const double s : sums) total += s;
  return total;
}

}  // namespace

double smoothness(const Planes& opponent, double lightness, double chroma, Planes& gradient) {
  const std::size_t width = opponent.width;
  const double share = 1.0 / static_cast<double>(opponent.area());
  double total = 0;
  for (std::size_t k = 0; k < 3; ++k) {
    const double weight = (k == 0 ? lightness : chroma) * share;
    const auto scale = static_cast<float>(2.0 * weight);
    const float* plane = opponent.plane[k].data();
    total += weight * sumRows(opponent.height, [&](int y) {
               const float* here = plane + y * width;
               return smoothRow(here, y > 0 ? here - width : nullptr,
                                y + 1 < opponent.height ? here + width : nullptr,
                                &gradient.plane[k][y * width], scale, width);
             });
  }
  return total;
}

double rangePenalty(const Planes& rgb, double weight, Planes& gradient) {
  const std::size_t width = rgb.width;
  const double share = weight / (3.0 * static_cast<double>(rgb.area()));
  double total = 0;
  for (std::size_t k = 0; k < 3; ++k) {
    total +=
        share * sumRows(rgb.height, [&](int y) {
          const std::size_t at = y * width;
          return rangeRow(&rgb.plane[k][at], &gradient.plane[k][at], static_cast<float>(2.0 * share), width);
        });
  }
  return total;
}

}  // namespace jugendstil
