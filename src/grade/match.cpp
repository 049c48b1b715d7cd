// SPDX-License-Identifier: Apache-2.0
#include "grade/match.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "grade/gamut.h"
#include "grade/spread.h"
#include "grade/tone.h"
#include "image/colour.h"

namespace jugendstil {
namespace {

constexpr std::size_t kRanks = 256;
constexpr int kResidualSide = 17;
constexpr int kCurvePoints = 9;
constexpr double kLeastDetail = 0.6;
constexpr double kMostDetail = 1.8;
constexpr double kSignificantStrength = 5e-4;  // a weaker band is noise or nothing
constexpr std::array<float, kToneRanges> kRangeTones{0.15F, 0.5F, 0.85F};

std::vector<float> toneQuantiles(const std::vector<Oklab>& colours) {
  std::vector<float> tones(colours.size());
  for (std::size_t i = 0; i < tones.size(); ++i) tones[i] = std::clamp(toneOf(colours[i]), 0.0F, 1.0F);
  std::sort(tones.begin(), tones.end());
  std::vector<float> out(kRanks);
  for (std::size_t k = 0; k < kRanks; ++k) {
    const double at = (static_cast<double>(k) + 0.5) / kRanks * static_cast<double>(tones.size()) - 0.5;
    const double clamped = std::clamp(at, 0.0, static_cast<double>(tones.size() - 1));
    const auto low = static_cast<std::size_t>(clamped);
    const auto part = static_cast<float>(clamped - static_cast<double>(low));
    out[k] = tones[low] + part * (tones[std::min(low + 1, tones.size() - 1)] - tones[low]);
  }
  return out;
}

MonotoneCurve toneCurve(const std::vector<Oklab>& photo, const std::vector<SharedStatistics>& references) {
  std::vector<float> target(kRanks);
  double sum = 0;
  for (const SharedStatistics& r : references) sum += r.share;
  for (const SharedStatistics& r : references) {
    const auto q = toneQuantiles(r.statistics.colours);
    for (std::size_t k = 0; k < kRanks; ++k) target[k] += static_cast<float>(r.share / sum) * q[k];
  }
  return matchTone(toneQuantiles(photo), target);
}

// Exposure is as much of the change as scales the middle of the picture up; the curve is what remains.
void takeTone(Look& look, const MonotoneCurve& curve, const std::vector<Oklab>& photo) {
  const float middle = std::clamp(toneQuantiles(photo)[kRanks / 2], 0.05F, 0.7F);
  const double stops = std::log2(static_cast<double>(srgbToLinear(curve(middle)) / srgbToLinear(middle)));
  if (stops > 0.1) look.exposure = std::min(2.0, std::round(stops * 20) / 20);
  look.black = static_cast<double>(curve(0));
  look.white = static_cast<double>(curve(1));
  Look exposure;
  exposure.exposure = look.exposure;
  look.curve.clear();
  float last = 0;
  for (int i = 0; i < kCurvePoints; ++i) {
    const float x = static_cast<float>(i) / (kCurvePoints - 1);
    float low = 0;
    float high = 1;
    for (int k = 0; k < 24; ++k) {
      const float half = (low + high) / 2;
      (lookTone(exposure, half) < x ? low : high) = half;
    }
    const float y = (curve((low + high) / 2) - static_cast<float>(look.black)) /
                    static_cast<float>(std::max(look.white - look.black, 1e-3));
    last = i == 0 ? 0.0F : i == kCurvePoints - 1 ? 1.0F : std::clamp(std::max(y, last), 0.0F, 1.0F);
    look.curve.emplace_back(x, last);
  }
}

// Saturation and casts as plain numbers: casts are where greys go, saturation what remains of chroma about
// them.
void takeColour(Look& look, const ChromaMap& map, const std::vector<Oklab>& photo) {
  for (std::size_t r = 0; r < kToneRanges; ++r) {
    const Oklab grey = map({lightnessOfTone(kRangeTones[r]), 0, 0});
    look.cast[r] = {static_cast<double>(grey.a), static_cast<double>(grey.b)};
  }
  double before = 0;
  double after = 0;
  for (const Oklab& c : photo) {
    const Oklab to = map(c);
    const Oklab grey = map({c.lightness, 0, 0});
    before += static_cast<double>(chroma(c));
    after += static_cast<double>(chroma({0, to.a - grey.a, to.b - grey.b}));
  }
  look.saturation = before > 1e-6 * static_cast<double>(photo.size()) ? std::min(3.0, after / before) : 1.0;
}

void takeDetail(Look& look, const GradeStatistics& photo, const std::vector<SharedStatistics>& references) {
  for (std::size_t k = 0; k < kDetailBands; ++k) {
    double target = 0;
    double sum = 0;
    for (const SharedStatistics& r : references) {
      target += r.share * r.statistics.detailStrength(k);
      sum += r.share;
    }
    const double own = photo.detailStrength(k);
    if (own < kSignificantStrength) continue;
    look.detail[k] = std::clamp(target / sum / own, kLeastDetail, kMostDetail);
  }
}

// Where the picture's samples stand when local contrast has been changed, before the colour map.
std::vector<Oklab> afterDetail(const GradeStatistics& photo, const Look& look, const MonotoneCurve& curve) {
  DetailChange change;
  change.gain = look.detail;
  change.toneSlope = [&](float tone) { return boundedSlope(curve.slope(tone)); };
  std::vector<Oklab> out(photo.colours.size());
  for (std::size_t i = 0; i < out.size(); ++i) {
    out[i] = oklabOfDisplay(detailChanged(displayOf(photo.colours[i]), photo.details[i], change));
  }
  return out;
}

}  // namespace

Look matchLook(const GradeStatistics& photo, const std::vector<SharedStatistics>& references,
               const MatchSettings& settings) {
  if (references.empty()) throw UsageError("a grade needs a reference");
  if (!settings.tone && !settings.colour && !settings.detail) {
    throw UsageError("nothing to match: choose tone, colour, detail or several of them");
  }
  Look look;
  std::vector<Oklab> colours = photo.colours;
  MonotoneCurve curve = settings.tone ? toneCurve(colours, references) : MonotoneCurve();
  if (settings.detail) {
    takeDetail(look, photo, references);
    colours = afterDetail(photo, look, curve);
    if (settings.tone) curve = toneCurve(colours, references);
  }
  if (settings.tone) takeTone(look, curve, colours);
  if (!settings.colour) return look;

  // The tone part of the look itself, so that the residual below does not repeat it.
  Look toneOnly;
  toneOnly.exposure = look.exposure;
  toneOnly.black = look.black;
  toneOnly.white = look.white;
  toneOnly.curve = look.curve;
  const auto tonedColour = [&](const std::array<float, 3>& rgb) { return tonedByLook(toneOnly, rgb); };
  std::vector<std::array<float, 3>> at(colours.size());
  std::vector<Oklab> now(colours.size());
  for (std::size_t i = 0; i < at.size(); ++i) {
    at[i] = displayOf(colours[i]);
    now[i] = tonedColour(at[i]);
  }
  const ChromaMap map(settings.method, now, references);
  takeColour(look, map, now);
  look.residual = tabulated(kResidualSide, [&](const std::array<float, 3>& rgb) {
    return fittedDisplay(map(tonedColour(rgb)), oklabOfDisplay(rgb));
  });
  limitSlopes(look.residual, kMostStep, kSlopesFrom);
  if (settings.method == GradeMethod::distribution)
    spreadColours(look.residual, at, references, settings.tone);
  Look plain = look;
  plain.residual = {};
  const ColourTable known =
      tabulated(kResidualSide, [&](const std::array<float, 3>& rgb) { return lookColour(plain, rgb); });
  for (std::size_t i = 0; i < known.rgb.size(); ++i) look.residual.rgb[i] -= known.rgb[i];
  return look;
}

}  // namespace jugendstil
