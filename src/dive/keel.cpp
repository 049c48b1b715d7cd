// SPDX-License-Identifier: Apache-2.0
#include "dive/keel.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "amplify/change.h"
#include "base/parallel.h"
#include "image/box_mean.h"
#include "image/colour.h"
#include "image/display_oklab.h"
#include "image/luma.h"
#include "image/planes.h"
#include "paint/canvas.h"

namespace jugendstil {
namespace {

constexpr double kLeastGain = 0.8;
constexpr double kMostGain = 1.05;
// Where nothing comes out of what is made so.
constexpr double kAtOnce = 1.5;
// What is broader than this part of the shorter side has tones; what is finer is detail, and keeps its
// contrast.
constexpr int kBroad = 24;
// Tones go this part of the way in a frame, by a curve that is nowhere flatter or steeper than this.
constexpr double kTonesPart = 0.2;
constexpr double kLeastSlope = 0.8;
constexpr double kMostSlope = 1.25;
constexpr double kLeastStep = 1e-4;
// Each size of detail may have so much more of mean squares than it should: which sizes there are is for what
// makes the frames, and what it makes in place of a photo's own texture is larger.
constexpr std::array<double, Pyramid::kLevels> kRoom{2, 2, 2, 1.5, 1};
// Coefficients of this size are half raised: rounding to 8 bits makes them of 0.3 / 255.
constexpr float kGrain = 1.2F / 255;
// Of the curve of lightness: up to a quarter it rises everywhere.
constexpr double kMostBend = 0.15;
constexpr double kMostFactor = 1.25;
// So large a part of the pixels is less vivid than the most vivid are.
constexpr double kVivid = 0.99;
// Below this there are no colours that a factor could bring back.
constexpr double kNoChroma = 0.004;

// A picture on the canvas of a pyramid.
struct Spread {
  LevelPlan level;
  Pyramid pyramid;
  std::vector<float> coefficients;

  explicit Spread(const Image& picture)
      : level(canvasFor({picture.width, picture.height})),
        pyramid(level.canvas.width, level.canvas.height),
        coefficients(pyramid.decompose(opponentOf(toCanvas(picture, level)))) {}

  double meanSquare(int i, int plane) const {
    const Pyramid::Range& r = pyramid.range(i, plane);
    const double middle = mean(i, plane);
    double sum = 0;
    for (std::size_t k = r.begin; k < r.end; ++k)
      sum += (coefficients[k] - middle) * (coefficients[k] - middle);
    return sum / static_cast<double>(r.end - r.begin);
  }
  // Which is 0 of details.
  double mean(int i, int plane) const {
    if (i + 1 < Pyramid::kLevels) return 0;
    const Pyramid::Range& r = pyramid.range(i, plane);
    double sum = 0;
    for (std::size_t k = r.begin; k < r.end; ++k) sum += coefficients[k];
    return sum / static_cast<double>(r.end - r.begin);
  }
  double detail(int i) const { return meanSquare(i, 0); }
  double colourDetail(int i) const { return meanSquare(i, 1) + meanSquare(i, 2); }

  Image picture() const {
    Planes planes(level.canvas.width, level.canvas.height);
    pyramid.reconstruct(coefficients, planes);
    return fromCanvas(planes, level);
  }
};

Oklab labAt(const Image& picture, std::size_t i) { return oklabOfDisplay(picture.pixel(i)); }

std::vector<Oklab> labOf(const Image& picture) {
  std::vector<Oklab> lab(picture.area());
  parallelFor(picture.height, [&](int y) {
    for (std::size_t i = cellAt(0, y, picture.width); i < cellAt(0, y + 1, picture.width); ++i)
      lab[i] = labAt(picture, i);
  });
  return lab;
}

template <typename Of>
double meanOf(const std::vector<Oklab>& lab, const Of& of) {
  double sum = 0;
  for (const Oklab& c : lab) sum += of(c);
  return sum / static_cast<double>(lab.size());
}

double gainFor(double is, double wanted, double least = kLeastGain, double most = kMostGain) {
  return is <= 0 ? 1 : std::clamp(std::sqrt(wanted / is), least, most);
}

void gain(Spread& spread, int i, int plane, double by) {
  const Pyramid::Range& r = spread.pyramid.range(i, plane);
  const auto middle = static_cast<float>(spread.mean(i, plane));
  const auto more = static_cast<float>(by - 1);
  for (std::size_t k = r.begin; k < r.end; ++k) {
    const float c = spread.coefficients[k] - middle;
    spread.coefficients[k] += more * c * (by > 1 ? c * c / (c * c + kGrain * kGrain) : 1);
  }
}

// What the mean square of the gradient comes to: a level's is a quarter of the one before for equal detail.
double sharpness(const std::array<double, Pyramid::kLevels>& detail) {
  double sum = 0;
  for (int i = 0; i + 1 < Pyramid::kLevels; ++i) sum += std::ldexp(detail[i], -2 * i);
  return sum;
}

double gradientOf(const Image& picture) {
  std::vector<float> above;
  std::vector<float> row(picture.width);
  double sum = 0;
  for (int y = 0; y < picture.height; ++y) {
    for (int x = 0; x < picture.width; ++x) row[x] = lumaOf(picture.row(y) + 3 * x);
    for (int x = 0; x < picture.width; ++x) {
      const float across = x == 0 ? 0 : row[x] - row[x - 1];
      const float down = y == 0 ? 0 : row[x] - above[x];
      sum += across * across + down * down;
    }
    above = row;
  }
  return sum / static_cast<double>(picture.area());
}

Image withDetail(const Image& picture, const Keel& wanted) {
  Spread spread(picture);
  std::array<double, Pyramid::kLevels> was{};
  std::array<double, Pyramid::kLevels> is{};
  for (int i = 0; i < Pyramid::kLevels; ++i) {
    was[i] = spread.detail(i);
    gain(spread, i, 0, std::min(1.0, gainFor(spread.detail(i), kRoom[i] * wanted.detail[i])));
    const double colour = std::min(1.0, gainFor(spread.colourDetail(i), kRoom[i] * wanted.colourDetail[i]));
    gain(spread, i, 1, colour);
    gain(spread, i, 2, colour);
    is[i] = spread.detail(i);
  }
  // What the gradient has become, without making a picture of it.
  const double left = sharpness(was) <= 0 ? 1 : sharpness(is) / sharpness(was);
  const double all = gainFor(left * gradientOf(picture), wanted.gradient);
  for (int i = 0; i + 1 < Pyramid::kLevels; ++i) {
    for (int plane = 0; plane < 3; ++plane) gain(spread, i, plane, all);
  }
  return spread.picture();
}

// Lightness without detail.
std::vector<float> broadLightness(const std::vector<Oklab>& lab, int width, int height) {
  std::vector<float> lightness(lab.size());
  std::transform(lab.begin(), lab.end(), lightness.begin(), [](const Oklab& c) { return c.lightness; });
  return boxMeans(lightness, width, height, std::max(1, std::min(width, height) / kBroad));
}

std::array<double, kTones> tonesOf(const std::vector<float>& lightness) {
  std::vector<float> sorted = lightness;
  std::sort(sorted.begin(), sorted.end());
  std::array<double, kTones> tones{};
  for (int t = 0; t < kTones; ++t) tones[t] = sorted[(sorted.size() - 1) * t / (kTones - 1)];
  return tones;
}

// The way from one tone to another, straight between those that are known.
class ToneCurve {
 public:
  ToneCurve(const std::array<double, kTones>& from, const std::array<double, kTones>& to) {
    for (int t = 0; t < kTones; ++t) {
      // Of tones that are the same only the first is a place on the curve.
      if (!from_.empty() && from[t] - from_.back() < kLeastStep) continue;
      const double moved = from[t] + kTonesPart * (to[t] - from[t]);
      from_.push_back(from[t]);
      to_.push_back(to_.empty()
                        ? moved
                        : std::clamp(moved, to_.back() + kLeastSlope * (from[t] - from_[from_.size() - 2]),
                                     to_.back() + kMostSlope * (from[t] - from_[from_.size() - 2])));
    }
  }

  float at(float tone) const {
    const auto after = std::upper_bound(from_.begin(), from_.end(), static_cast<double>(tone));
    if (after == from_.begin()) return static_cast<float>(tone + to_.front() - from_.front());
    if (after == from_.end()) return static_cast<float>(tone + to_.back() - from_.back());
    const auto i = after - from_.begin();
    const double part = (tone - from_[i - 1]) / (from_[i] - from_[i - 1]);
    return static_cast<float>(to_[i - 1] + part * (to_[i] - to_[i - 1]));
  }

 private:
  std::vector<double> from_;
  std::vector<double> to_;
};

// What chroma beyond the most vivid is multiplied by, so that half of what it has more goes.
float tamed(float chroma, float vivid) { return chroma <= vivid ? 1 : (chroma + vivid) / (2 * chroma); }

double vividOf(const std::vector<Oklab>& lab) {
  std::vector<float> all(lab.size());
  std::transform(lab.begin(), lab.end(), all.begin(), [](const Oklab& c) { return chroma(c); });
  const auto at = all.begin() + static_cast<std::ptrdiff_t>(kVivid * static_cast<double>(all.size() - 1));
  std::nth_element(all.begin(), at, all.end());
  return *at;
}

double chromaFactor(double is, const Keel& wanted) {
  return is < kNoChroma ? 1 : std::clamp(wanted.chroma / is, 1 / kMostFactor, kMostFactor);
}

Image withTone(const Image& picture, const Keel& wanted) {
  std::vector<Oklab> lab = labOf(picture);
  const std::vector<float> broad = broadLightness(lab, picture.width, picture.height);
  const ToneCurve curve(tonesOf(broad), wanted.tones);
  for (std::size_t i = 0; i < lab.size(); ++i) {
    lab[i].lightness += curve.at(broad[i]) - broad[i];
  }
  const double lightness = meanOf(lab, [](const Oklab& c) { return c.lightness; });
  const double room = meanOf(lab, [](const Oklab& c) { return 4 * c.lightness * (1 - c.lightness); });
  const double bend =
      room <= 0 ? 0 : std::clamp((wanted.lightness - lightness) / room, -kMostBend, kMostBend);
  const double chromaNow = meanOf(lab, [](const Oklab& c) { return chroma(c); });
  const double factor = chromaFactor(chromaNow, wanted);
  const auto vivid = static_cast<float>(wanted.vivid);
  Image out(picture.width, picture.height, 3);
  parallelFor(picture.height, [&](int y) {
    for (std::size_t i = cellAt(0, y, picture.width); i < cellAt(0, y + 1, picture.width); ++i) {
      Oklab c = lab[i];
      c.lightness += static_cast<float>(bend * 4) * c.lightness * (1 - c.lightness);
      const float by = static_cast<float>(factor) * tamed(static_cast<float>(factor) * chroma(c), vivid);
      c.a *= by;
      c.b *= by;
      const LinearRgb rgb = linearOf(c);
      float* to = out.pixel(i);
      to[0] = linearToSrgb(rgb.red);
      to[1] = linearToSrgb(rgb.green);
      to[2] = linearToSrgb(rgb.blue);
    }
  });
  return out;
}

}  // namespace

Keel keelOf(const Image& picture) {
  Keel keel;
  const std::vector<Oklab> lab = labOf(picture);
  keel.lightness = meanOf(lab, [](const Oklab& c) { return c.lightness; });
  keel.chroma = meanOf(lab, [](const Oklab& c) { return chroma(c); });
  keel.vivid = vividOf(lab);
  keel.tones = tonesOf(broadLightness(lab, picture.width, picture.height));
  keel.gradient = gradientOf(picture);
  const Spread spread(picture);
  for (int i = 0; i < Pyramid::kLevels; ++i) {
    keel.detail[i] = spread.detail(i);
    keel.colourDetail[i] = spread.colourDetail(i);
  }
  return keel;
}

double finestDetail(const Image& picture) { return Spread(picture).detail(0); }

namespace {

Keel mixed(const Keel& a, const Keel& b, double tone, double detail) {
  const auto mix = [](double from, double to, double part) { return from + part * (to - from); };
  Keel out;
  out.lightness = mix(a.lightness, b.lightness, tone);
  out.chroma = mix(a.chroma, b.chroma, tone);
  out.vivid = mix(a.vivid, b.vivid, tone);
  for (int t = 0; t < kTones; ++t) out.tones[t] = mix(a.tones[t], b.tones[t], tone);
  out.gradient = mix(a.gradient, b.gradient, detail);
  for (std::size_t i = 0; i < out.detail.size(); ++i) {
    out.detail[i] = mix(a.detail[i], b.detail[i], detail);
    out.colourDetail[i] = mix(a.colourDetail[i], b.colourDetail[i], detail);
  }
  return out;
}

// What would leave the range comes near its end.
Image softlyTurned(const Image& picture, Image into) {
  addTo(into, picture, -1);
  return clipped(withChange(picture, into, 1));
}

}  // namespace

Keel between(const Keel& a, const Keel& b, double part) { return mixed(a, b, part, part); }

Keel betweenStrengths(const Keel& none, const Keel& full, double part) {
  return mixed(none, full, part, part * part);
}

Image onKeel(const Image& picture, const Keel& wanted) {
  return softlyTurned(picture, withTone(withDetail(picture, wanted), wanted));
}

Lift liftOf(const Image& picture, const Keel& wanted) {
  const double is = meanOf(labOf(picture), [](const Oklab& c) { return chroma(c); });
  return {gainFor(gradientOf(picture), wanted.gradient, 1 / kAtOnce, kAtOnce), chromaFactor(is, wanted)};
}

Image lifted(const Image& picture, const Lift& by) {
  Spread spread(picture);
  for (int i = 0; i + 1 < Pyramid::kLevels; ++i) gain(spread, i, 0, by.detail);
  // Of the planes of colour all, from their zero: grey stays grey.
  for (int plane = 1; plane < 3; ++plane) {
    for (int i = 0; i < Pyramid::kLevels; ++i) {
      const Pyramid::Range& r = spread.pyramid.range(i, plane);
      for (std::size_t k = r.begin; k < r.end; ++k) spread.coefficients[k] *= static_cast<float>(by.chroma);
    }
  }
  return softlyTurned(picture, spread.picture());
}

}  // namespace jugendstil
