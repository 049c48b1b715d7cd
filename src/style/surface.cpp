#include "style/surface.h"

#include <algorithm>
#include <cmath>

#include "image/parallel.h"

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
    : pool_(samples, 3, kColourPool, seed),
      seed_(seed),
      places_(std::move(places)),
      projected_(kColourDirections),
      scratch_(kColourDirections) {}

double ColourTerm::evaluate(const Planes& opponent, double weight, std::uint64_t step, Planes& gradient) {
  const std::size_t n = places_.empty() ? opponent.area() : places_.size();
  const auto drawn = pool_.draw(kColourDirections, seed_ + step * 0x9E3779B97F4A7C15ULL);
  std::vector<double> distance(drawn.size());
  parallelFor(static_cast<int>(drawn.size()), [&](int i) {
    const auto k = static_cast<std::size_t>(i);
    projected_[k].resize(n);
    const auto v = pool_.direction(drawn[k]);
    if (places_.empty()) {
      dot3(opponent.plane[0].data(), opponent.plane[1].data(), opponent.plane[2].data(), v.data(),
           projected_[k].data(), n);
    }
    for (std::size_t at = 0; at < places_.size(); ++at) {
      float sum = 0;
      for (std::size_t c = 0; c < 3; ++c) sum += v[c] * opponent.plane[c][places_[at]];
      projected_[k][at] = sum;
    }
    distance[k] = transportResidual(projected_[k], pool_.quantiles(drawn[k]), scratch_[k]);
  });
  const double share = 1.0 / (kColourScale * static_cast<double>(drawn.size()));
  const auto scale = static_cast<float>(weight * share * 2.0 / static_cast<double>(n));
  const auto width = static_cast<std::size_t>(opponent.width);
  parallelFor(places_.empty() ? opponent.height : 0, [&](int y) {
    const std::size_t at = static_cast<std::size_t>(y) * width;
    for (std::size_t k = 0; k < drawn.size(); ++k) {
      const auto v = pool_.direction(drawn[k]);
      for (std::size_t c = 0; c < 3; ++c)
        addScaled(&gradient.plane[c][at], &projected_[k][at], scale * v[c], width);
    }
  });
  parallelFor(places_.empty() ? 0 : 3, [&](int plane) {
    const auto c = static_cast<std::size_t>(plane);
    for (std::size_t k = 0; k < drawn.size(); ++k) {
      const float part = scale * pool_.direction(drawn[k])[c];
      for (std::size_t at = 0; at < places_.size(); ++at)
        gradient.plane[c][places_[at]] += part * projected_[k][at];
    }
  });
  double sum = 0;
  for (const double d : distance) sum += d;
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
  std::vector<double> sums(static_cast<std::size_t>(height));
  parallelFor(height, [&](int y) { sums[static_cast<std::size_t>(y)] = static_cast<double>(row(y)); });
  double total = 0;
  for (const double s : sums) total += s;
  return total;
}

}  // namespace

double smoothness(const Planes& opponent, double lightness, double chroma, Planes& gradient) {
  const auto width = static_cast<std::size_t>(opponent.width);
  const double share = 1.0 / static_cast<double>(opponent.area());
  double total = 0;
  for (std::size_t k = 0; k < 3; ++k) {
    const double weight = (k == 0 ? lightness : chroma) * share;
    const auto scale = static_cast<float>(2.0 * weight);
    const float* plane = opponent.plane[k].data();
    total += weight * sumRows(opponent.height, [&](int y) {
               const float* here = plane + static_cast<std::size_t>(y) * width;
               return smoothRow(here, y > 0 ? here - width : nullptr,
                                y + 1 < opponent.height ? here + width : nullptr,
                                &gradient.plane[k][static_cast<std::size_t>(y) * width], scale, width);
             });
  }
  return total;
}

double rangePenalty(const Planes& rgb, double weight, Planes& gradient) {
  const auto width = static_cast<std::size_t>(rgb.width);
  const double share = weight / (3.0 * static_cast<double>(rgb.area()));
  double total = 0;
  for (std::size_t k = 0; k < 3; ++k) {
    total +=
        share * sumRows(rgb.height, [&](int y) {
          const std::size_t at = static_cast<std::size_t>(y) * width;
          return rangeRow(&rgb.plane[k][at], &gradient.plane[k][at], static_cast<float>(2.0 * share), width);
        });
  }
  return total;
}

}  // namespace jugendstil
