#include "grade/closeness.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "base/parallel.h"
#include "transport/directions.h"
#include "transport/transport.h"

namespace jugendstil {
namespace {

constexpr std::size_t kDirections = 64;
constexpr int kRanks = 99;
constexpr double kPi = 3.141592653589793;

std::vector<float> projection(const std::vector<Oklab>& colours, const float* d) {
  std::vector<float> out(colours.size());
  for (std::size_t i = 0; i < out.size(); ++i) {
    out[i] = colours[i].lightness * d[0] + colours[i].a * d[1] + colours[i].b * d[2];
  }
  return out;
}

// From 0 to 360 degrees; 0 for greys.
double hueOf(double a, double b) {
  if (a == 0 && b == 0) return 0;
  const double degrees = std::atan2(b, a) * 180 / kPi;
  return degrees < 0 ? degrees + 360 : degrees;
}

double cosine(double degrees) { return std::cos(degrees * kPi / 180); }

std::array<std::vector<double>, 3> sortedAxes(const std::vector<Oklab>& colours) {
  std::array<std::vector<double>, 3> axes;
  for (const Oklab& c : colours) {
    const CieLab lab = cieLabOf(c);
    axes[0].push_back(lab.lightness);
    axes[1].push_back(lab.a);
    axes[2].push_back(lab.b);
  }
  for (auto& axis : axes) std::sort(axis.begin(), axis.end());
  return axes;
}

CieLab atRank(const std::array<std::vector<double>, 3>& axes, int rank) {
  const auto at = static_cast<std::size_t>(
      std::lround((rank + 1.0) / (kRanks + 1) * static_cast<double>(axes[0].size() - 1)));
  return {axes[0][at], axes[1][at], axes[2][at]};
}

}  // namespace

double slicedDistance(const std::vector<Oklab>& a, const std::vector<Oklab>& b) {
  std::mt19937_64 random(20);
  const std::vector<float> directions = randomDirections(kDirections, 3, random);
  std::array<double, kDirections> squares{};
  parallelFor(static_cast<int>(kDirections), [&](int k) {
    const float* d = &directions[static_cast<std::size_t>(k) * 3];
    const auto first = quantilesOf(projection(a, d));
    const auto second = quantilesOf(projection(b, d));
    double sum = 0;
    for (std::size_t i = 0; i < kQuantiles; ++i) {
      const auto difference = static_cast<double>(first[i] - second[i]);
      sum += difference * difference;
    }
    squares[static_cast<std::size_t>(k)] = sum / kQuantiles;
  });
  double sum = 0;
  for (const double s : squares) sum += s;
  return std::sqrt(sum / kDirections);
}

CieLab cieLabOf(const Oklab& colour) {
  const LinearRgb c = linearOf(colour);
  const auto r = static_cast<double>(c.red);
  const auto g = static_cast<double>(c.green);
  const auto b = static_cast<double>(c.blue);
  const auto f = [](double t) { return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116; };
  // IEC 61966-2-1 primaries, divided by the white point.
  const double x = f((0.4123908 * r + 0.3575843 * g + 0.1804808 * b) / 0.9504559);
  const double y = f(0.2126390 * r + 0.7151687 * g + 0.0721923 * b);
  const double z = f((0.0193308 * r + 0.1191948 * g + 0.9505322 * b) / 1.0890578);
  return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}

double ciede2000(const CieLab& first, const CieLab& second) {
  const auto seventh = [](double c) {
    const double p = std::pow(c, 7);
    return std::sqrt(p / (p + 6103515625.0));  // 25^7
  };
  const double meanChroma = (std::hypot(first.a, first.b) + std::hypot(second.a, second.b)) / 2;
  const double g = 0.5 * (1 - seventh(meanChroma));
  const double a1 = first.a * (1 + g);
  const double a2 = second.a * (1 + g);
  const double c1 = std::hypot(a1, first.b);
  const double c2 = std::hypot(a2, second.b);
  const double h1 = hueOf(a1, first.b);
  const double h2 = hueOf(a2, second.b);
  double hueStep = h2 - h1;
  if (c1 * c2 == 0) hueStep = 0;
  if (hueStep > 180) hueStep -= 360;
  if (hueStep < -180) hueStep += 360;
  const double dl = second.lightness - first.lightness;
  const double dc = c2 - c1;
  const double dh = 2 * std::sqrt(c1 * c2) * std::sin(hueStep * kPi / 360);
  const double l = (first.lightness + second.lightness) / 2;
  const double c = (c1 + c2) / 2;
  double h = h1 + h2;
  if (c1 * c2 != 0) {
    if (std::fabs(h1 - h2) <= 180) {
      h /= 2;
    } else {
      h = h < 360 ? (h + 360) / 2 : (h - 360) / 2;
    }
  }
  const double t =
      1 - 0.17 * cosine(h - 30) + 0.24 * cosine(2 * h) + 0.32 * cosine(3 * h + 6) - 0.20 * cosine(4 * h - 63);
  const double sl = 1 + 0.015 * (l - 50) * (l - 50) / std::sqrt(20 + (l - 50) * (l - 50));
  const double sc = 1 + 0.045 * c;
  const double sh = 1 + 0.015 * c * t;
  const double turn = 30 * std::exp(-((h - 275) / 25) * ((h - 275) / 25));
  const double rt = -2 * seventh(c) * std::sin(2 * turn * kPi / 180);
  const double x = dl / sl;
  const double y = dc / sc;
  const double z = dh / sh;
  return std::sqrt(std::max(0.0, x * x + y * y + z * z + rt * y * z));
}

double quantileDistance(const std::vector<Oklab>& a, const std::vector<Oklab>& b) {
  const auto first = sortedAxes(a);
  const auto second = sortedAxes(b);
  double sum = 0;
  for (int rank = 0; rank < kRanks; ++rank) sum += ciede2000(atRank(first, rank), atRank(second, rank));
  return sum / kRanks;
}

}  // namespace jugendstil
