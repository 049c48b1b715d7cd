// SPDX-License-Identifier: Apache-2.0
#include "grade/chroma.h"

#include <algorithm>
#include <cmath>

#include "grade/recolour.h"

namespace jugendstil {
namespace {

constexpr double kMostGain = 2.2;  // of chroma; more turns skin and leaves to paint
constexpr double kLean = 0.06;     // of all pixels: ranges with fewer lean on the whole picture
constexpr float kGrey = 0.025F;    // chroma that still looks grey
// Parts of a range's pixels within kGrey: up to the first they are chance, from the second on they are
// something.
constexpr double kGreysByChance = 0.03;
constexpr double kGreysForSure = 0.10;
// Pixels just outside kGrey for one inside. Evenly spread colours would have 1.25: with fewer, greys are a
// cluster of their own and believed; with many more, what looks nearly grey is the rim of a cluster
// elsewhere, such as the stones of a blue evening, and those are its greys.
constexpr double kRimOfGreys = 1.25;
constexpr double kRimOfAnother = 2.2;

struct Moments {
  double weight = 0;
  double a = 0;
  double b = 0;
  double aa = 0;
  double ab = 0;
  double bb = 0;

  void add(const Oklab& c, double w) {
    const double x = c.a;
    const double y = c.b;
    weight += w;
    a += w * x;
    b += w * y;
    aa += w * x * x;
    ab += w * x * y;
    bb += w * y * y;
  }
  void add(const Moments& m, double w) {
    weight += w * m.weight;
    a += w * m.a;
    b += w * m.b;
    aa += w * m.aa;
    ab += w * m.ab;
    bb += w * m.bb;
  }
};

struct Greys {
  double weight = 0;
  double inside = 0;
  double rim = 0;
  double a = 0;
  double b = 0;
};

struct Description {
  std::array<Moments, kToneRanges> range;
  std::array<Greys, kToneRanges> greys;
};

// Greys that lean this little (the first) are neutral, so that a grey photo is not tinted by what grows
// around the reference's stones; from the second on their cast is meant.
constexpr double kNeutralLean = 0.010;
constexpr double kCastLean = 0.022;

// 0 at `none`, 1 at `all`, in proportion between.
double between(double none, double all, double value) {
  return std::clamp((value - none) / (all - none), 0.0, 1.0);
}

Description describe(const std::vector<Oklab>& colours) {
  Description d;
  Moments all;
  const double each = 1.0 / static_cast<double>(colours.size());
  for (const Oklab& c : colours) {
    const auto weights = rangeWeights(toneOf(c));
    const float relative = chroma(c) / kGrey;
    const auto grey = static_cast<double>(std::exp(-relative * relative));
    for (std::size_t r = 0; r < kToneRanges; ++r) {
      const double w = each * weights[r];
      d.range[r].add(c, w);
      d.greys[r].weight += w * grey;
      (relative < 1 ? d.greys[r].inside : d.greys[r].rim) += relative < 1.5F ? w : 0;
      d.greys[r].a += w * grey * c.a;
      d.greys[r].b += w * grey * c.b;
    }
    all.add(c, each);
  }
  for (std::size_t r = 0; r < kToneRanges; ++r) {
    // Looked at before the range leans on the rest.
    Greys& g = d.greys[r];
    const double part = d.range[r].weight > 0 ? g.inside / d.range[r].weight : 0;
    const double sum = std::max(g.weight, 1e-12);
    const double known = std::min(1.0, d.range[r].weight / kLean);
    const double rim = g.rim / std::max(g.inside, 1e-12);
    const double lean = between(kNeutralLean, kCastLean, std::hypot(g.a, g.b) / sum);
    g.a *= lean / sum;
    g.b *= lean / sum;
    g.weight =
        known * between(kGreysByChance, kGreysForSure, part) * between(kRimOfAnother, kRimOfGreys, rim);
    d.range[r].add(all, kLean);
  }
  return d;
}

// Lightness is given the same unit spread on both sides and no correlation, so the map leaves it alone.
ColourStatistics planeStatistics(const Moments& m, bool diagonal) {
  ColourStatistics s;
  const double a = m.a / m.weight;
  const double b = m.b / m.weight;
  s.mean = {0, a, b};
  s.covariance[0][0] = 1;
  s.covariance[1][1] = m.aa / m.weight - a * a;
  s.covariance[2][2] = m.bb / m.weight - b * b;
  if (!diagonal) s.covariance[1][2] = s.covariance[2][1] = m.ab / m.weight - a * b;
  return s;
}

// The share-weighted mean of the references' means and covariances.
ColourStatistics meanStatistics(const std::vector<ColourStatistics>& parts,
                                const std::vector<double>& shares) {
  ColourStatistics s;
  for (std::size_t k = 0; k < parts.size(); ++k) {
    for (std::size_t i = 0; i < 3; ++i) {
      s.mean[i] += shares[k] * parts[k].mean[i];
      for (std::size_t j = 0; j < 3; ++j) s.covariance[i][j] += shares[k] * parts[k].covariance[i][j];
    }
  }
  return s;
}

float smoothStep(float from, float to, float x) {
  const float t = std::clamp((x - from) / (to - from), 0.0F, 1.0F);
  return t * t * (3 - 2 * t);
}

}  // namespace

std::array<float, kToneRanges> rangeWeights(float tone) {
  const float lights = smoothStep(0.5F, 0.9F, tone);
  const float shadows = 1 - smoothStep(0.1F, 0.5F, tone);
  return {shadows, 1 - shadows - lights, lights};
}

ChromaMap::ChromaMap(GradeMethod method, const std::vector<Oklab>& photo,
                     const std::vector<SharedStatistics>& references) {
  const bool diagonal = method == GradeMethod::meanStd;
  const Description own = describe(photo);
  std::vector<Description> theirs;
  std::vector<double> shares;
  double sum = 0;
  for (const SharedStatistics& r : references) sum += r.share;
  for (const SharedStatistics& r : references) {
    theirs.push_back(describe(r.statistics.colours));
    shares.push_back(r.share / sum);
  }
  for (std::size_t r = 0; r < kToneRanges; ++r) {
    std::vector<ColourStatistics> parts;
    Range& range = ranges_[r];
    double trust = 0;
    double a = 0;
    double b = 0;
    for (std::size_t k = 0; k < theirs.size(); ++k) {
      parts.push_back(planeStatistics(theirs[k].range[r], diagonal));
      const Greys& g = theirs[k].greys[r];
      trust += shares[k] * g.weight;
      a += shares[k] * g.weight * g.a;
      b += shares[k] * g.weight * g.b;
    }
    const AffineColourMap map =
        mongeKantorovich(planeStatistics(own.range[r], diagonal), meanStatistics(parts, shares), kMostGain);
    for (std::size_t i = 0; i < 2; ++i) {
      for (std::size_t j = 0; j < 2; ++j) range.matrix[i][j] = static_cast<float>(map.matrix[i + 1][j + 1]);
      range.shift[i] = static_cast<float>(map.offset[i + 1]);
    }
    range.trust = static_cast<float>(trust);
    if (trust > 0) {
      // Both sides' near-greys lean the same way where leaves or skin surround them, so from one to the
      // other.
      const Greys& mine = own.greys[r];
      const double fromA = mine.weight * mine.a;
      const double fromB = mine.weight * mine.b;
      range.neutral = {static_cast<float>(a / trust - map.matrix[1][1] * fromA - map.matrix[1][2] * fromB),
                       static_cast<float>(b / trust - map.matrix[2][1] * fromA - map.matrix[2][2] * fromB)};
    }
    // The further greys go from the others' way, the wider the transition, or it would show as a step.
    const float apart = std::hypot(range.shift[0] - range.neutral[0], range.shift[1] - range.neutral[1]);
    range.reach = std::max(1.6F * kGrey, 2 * apart);
  }
}

Oklab ChromaMap::operator()(const Oklab& colour) const {
  const auto weights = rangeWeights(toneOf(colour));
  const float strength = chroma(colour);
  Oklab out{colour.lightness, 0, 0};
  for (std::size_t r = 0; r < kToneRanges; ++r) {
    const Range& range = ranges_[r];
    const float relative = strength / range.reach;
    const float held = range.trust * std::exp(-relative * relative);
    const float a = range.matrix[0][0] * colour.a + range.matrix[0][1] * colour.b +
                    range.shift[0] * (1 - held) + range.neutral[0] * held;
    const float b = range.matrix[1][0] * colour.a + range.matrix[1][1] * colour.b +
                    range.shift[1] * (1 - held) + range.neutral[1] * held;
    out.a += weights[r] * a;
    out.b += weights[r] * b;
  }
  return out;
}

}  // namespace jugendstil
