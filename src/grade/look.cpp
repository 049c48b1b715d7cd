// SPDX-License-Identifier: Apache-2.0
#include "grade/look.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "grade/gamut.h"
#include "grade/statistics.h"
#include "grade/tone.h"
#include "image/colour.h"

namespace jugendstil {
namespace {

constexpr float kKnee = 0.7F;        // code value above which a brightening exposure rolls off
constexpr float kChromaFoot = 0.1F;  // keeps the chroma of blacks that are lifted from exploding,
constexpr float kMostChroma = 1.3F;  // as does this
constexpr float kGrainTone =
    0.09F;  // darker, chroma is mostly grain, and fades where it would be lifted into sight
constexpr float kGrainLift = 0.10F;  // by this much
constexpr int kCurvePoints = 33;     // of a mixed curve
constexpr int kMixedSide = 33;

float exposed(double stops, float tone) {
  if (stops == 0) return tone;
  const auto gain = static_cast<float>(std::exp2(stops));
  const float bright = linearToSrgb(srgbToLinear(tone) * gain);
  if (stops < 0 || bright <= kKnee) return bright;
  // A rational shoulder of slope 1 at the knee that brings the brightest to 1.
  const float most = (linearToSrgb(gain) - kKnee) / (1 - kKnee);
  const float over = (bright - kKnee) / (1 - kKnee);
  return kKnee + (1 - kKnee) * over / (1 + over * (1 - 1 / most));
}

// The look's curve is looked up often; building it once per use keeps Look a plain value.
struct ToneMap {
  explicit ToneMap(const Look& look)
      : stops(look.exposure),
        curve(look.curve),
        black(static_cast<float>(look.black)),
        white(static_cast<float>(look.white)) {}

  float operator()(float tone) const { return black + (white - black) * curve(exposed(stops, tone)); }

  double stops;
  MonotoneCurve curve;
  float black;
  float white;
};

Oklab toned(const Oklab& c, float before, float after) {
  if (before == after) return c;
  const float lightness = lightnessOfTone(after);
  const float lift = std::clamp((after - before) / kGrainLift, 0.0F, 1.0F);
  const float fade = 1 - lift * (1 - std::min(before / kGrainTone, 1.0F));
  const float ratio = fade * std::min((lightness + kChromaFoot) / (c.lightness + kChromaFoot), kMostChroma);
  return {lightness, c.a * ratio, c.b * ratio};
}

std::array<float, 3> colourWith(const Look& look, const ToneMap& tone, const std::array<float, 3>& rgb) {
  const Oklab source = oklabOfDisplay(rgb);
  const float before = toneOf(source);
  Oklab c = toned(source, before, tone(before));
  const auto weights = rangeWeights(toneOf(c));
  const auto saturation = static_cast<float>(look.saturation);
  float a = c.a * saturation;
  float b = c.b * saturation;
  for (std::size_t r = 0; r < kToneRanges; ++r) {
    a += weights[r] * static_cast<float>(look.cast[r][0]);
    b += weights[r] * static_cast<float>(look.cast[r][1]);
  }
  std::array<float, 3> out = fittedDisplay({c.lightness, a, b}, source);
  if (look.residual.size > 0) {
    const auto rest = interpolated(look.residual, rgb);
    for (std::size_t i = 0; i < 3; ++i) out[i] = std::clamp(out[i] + rest[i], 0.0F, 1.0F);
  }
  return out;
}

double mix(double a, double b, double by) { return a + (b - a) * by; }

// Points of both curves on one grid; a point that either has by itself stays exact.
std::vector<std::pair<float, float>> mixedCurve(const Look& a, const Look& b, double by) {
  if (a.curve == b.curve) return a.curve;
  const MonotoneCurve first(a.curve);
  const MonotoneCurve second(b.curve);
  std::vector<float> at;
  for (int i = 0; i < kCurvePoints; ++i) at.push_back(static_cast<float>(i) / (kCurvePoints - 1));
  const bool same = std::equal(a.curve.begin(), a.curve.end(), b.curve.begin(), b.curve.end(),
                               [](const auto& p, const auto& q) { return p.first == q.first; });
  if (same || a.curve.size() == 2 || b.curve.size() == 2) {
    at.clear();
    for (const auto& p : a.curve.size() > 2 ? a.curve : b.curve) at.push_back(p.first);
  }
  std::vector<std::pair<float, float>> out;
  float last = 0;
  for (const float x : at) {
    const auto y = static_cast<float>(mix(first(x), second(x), by));
    last = std::clamp(std::max(y, last), 0.0F, 1.0F);
    out.emplace_back(x, last);
  }
  return out;
}

ColourTable mixedResidual(const ColourTable& a, const ColourTable& b, double by) {
  if (a.size == 0 && b.size == 0) return {};
  const int size = a.size == b.size || b.size == 0 ? a.size
                   : a.size == 0                   ? b.size
                                                   : std::max({a.size, b.size, kMixedSide});
  const auto at = [](const ColourTable& t, const std::array<float, 3>& rgb) {
    return t.size > 0 ? interpolated(t, rgb) : std::array<float, 3>{};
  };
  const auto share = static_cast<float>(by);
  return tabulated(size, [&](const std::array<float, 3>& rgb) {
    const auto from = at(a, rgb);
    const auto to = at(b, rgb);
    std::array<float, 3> out{};
    for (std::size_t c = 0; c < 3; ++c) out[c] = std::clamp(from[c] + (to[c] - from[c]) * share, -1.0F, 1.0F);
    return out;
  });
}

// As exact as the numbers are shown, to a tenth of a per cent, so that both say the same.
double inPercent(double part) { return std::round(1000 * part) / 10; }
std::string percent(double part) { return fmt::format("{:+} %", inPercent(part)); }

// Where a cast pulls, in a printer's words.
std::string pull(const std::array<double, 2>& cast) {
  const double degrees = std::atan2(cast[1], cast[0]) * 57.29577951308232;
  if (degrees > 20 && degrees <= 100) return "warms";
  if (degrees > 100 && degrees <= 165) return "turns to green";
  if (degrees > 165 || degrees <= -160) return "turns to teal";
  if (degrees > -160 && degrees <= -75) return "cools";
  if (degrees > -75 && degrees <= -20) return "turns to violet";
  return "turns to rose";
}

std::string castRemark(const std::array<double, 2>& cast, const char* range) {
  const double size = std::hypot(cast[0], cast[1]);
  if (size < 0.004) return {};
  const char* much = size < 0.012 ? " slightly" : size > 0.05 ? " strongly" : "";
  const std::string verb = pull(cast);
  const auto space = verb.find(' ');
  if (space == std::string::npos) return fmt::format("{} the {}{}", verb, range, much);
  return fmt::format("{} the {}{}{}", verb.substr(0, space), range, verb.substr(space), much);
}

void sayTone(const Look& look, std::vector<std::string>& out) {
  const ToneMap tone(look);
  if (std::fabs(look.exposure) >= 0.005) out.push_back(fmt::format("exposure {:+.2f} EV", look.exposure));
  if (look.black > 0.005) out.push_back(fmt::format("lifts the blacks by {} %", inPercent(look.black)));
  if (look.white < 0.985) out.push_back(fmt::format("holds the whites at {} %", inPercent(look.white)));
  const double middle = std::log2(static_cast<double>(srgbToLinear(tone(0.5F)) / srgbToLinear(0.5F)));
  if (std::fabs(middle) >= 0.05) {
    out.push_back(
        fmt::format("mid-tones {:.1f} EV {} in all", std::fabs(middle), middle > 0 ? "brighter" : "darker"));
  }
  const double contrast = (tone(0.65F) - tone(0.35F)) / 0.3 - 1;
  if (std::fabs(contrast) > 0.03) out.push_back("contrast of the mid-tones " + percent(contrast));
}

void sayColour(const Look& look, std::vector<std::string>& out) {
  if (look.saturation < 0.03) {
    out.emplace_back("takes all colour away");
  } else if (std::fabs(look.saturation - 1) >= 0.0005) {
    out.push_back("saturation " + percent(look.saturation - 1));
  }
  constexpr std::array<const char*, kToneRanges> names{"shadows", "mid-tones", "lights"};
  for (std::size_t r = 0; r < kToneRanges; ++r) {
    const std::string remark = castRemark(look.cast[r], names[r]);
    if (!remark.empty()) out.push_back(remark);
  }
}

void sayRest(const Look& look, std::vector<std::string>& out) {
  constexpr std::array<const char*, 3> names{"fine", "medium", "broad"};
  for (std::size_t k = 0; k < 3; ++k) {
    const double change = look.detail[k] - 1;
    if (std::fabs(change) >= 0.005) {
      out.push_back(fmt::format("{} local contrast {}", names[k], percent(change)));
    }
  }
  float most = 0;
  for (const float v : look.residual.rgb) most = std::max(most, std::fabs(v));
  if (most > 0.01F) {
    out.push_back(
        fmt::format("shifts single colours by up to {:.0f} % besides", 100 * static_cast<double>(most)));
  }
}

}  // namespace

bool Look::changesDetail() const {
  return std::any_of(detail.begin(), detail.end(), [](double gain) { return std::fabs(gain - 1) > 1e-6; });
}

std::array<float, 3> lookColour(const Look& look, const std::array<float, 3>& rgb) {
  return colourWith(look, ToneMap(look), rgb);
}

float lookTone(const Look& look, float tone) { return ToneMap(look)(tone); }

Oklab tonedByLook(const Look& look, const std::array<float, 3>& rgb) {
  const Oklab source = oklabOfDisplay(rgb);
  const float before = toneOf(source);
  return toned(source, before, lookTone(look, before));
}

float lookToneSlope(const Look& look, float tone) {
  constexpr float kStep = 1.0F / 256;
  const ToneMap map(look);
  const float low = std::max(0.0F, tone - kStep);
  const float high = std::min(1.0F, tone + kStep);
  return (map(high) - map(low)) / (high - low);
}

ColourTable lookTable(const Look& look) {
  const ToneMap tone(look);
  return tabulated(look.residual.size > kLookSide ? kFineLookSide : kLookSide,
                   [&](const std::array<float, 3>& rgb) { return colourWith(look, tone, rgb); });
}

Look mixedLook(const Look& a, const Look& b, double by) {
  Look out;
  out.name = a.name;
  // Beyond a and b each number stops where a look file would refuse it.
  out.exposure = std::clamp(mix(a.exposure, b.exposure, by), -8.0, 8.0);
  out.curve = mixedCurve(a, b, by);
  out.black = std::clamp(mix(a.black, b.black, by), 0.0, 0.9);
  out.white = std::clamp(mix(a.white, b.white, by), out.black + 0.05, 1.0);
  out.saturation = std::clamp(mix(a.saturation, b.saturation, by), 0.0, 4.0);
  for (std::size_t r = 0; r < kToneRanges; ++r) {
    for (std::size_t i = 0; i < 2; ++i)
      out.cast[r][i] = std::clamp(mix(a.cast[r][i], b.cast[r][i], by), -0.4, 0.4);
  }
  for (std::size_t k = 0; k < 3; ++k) out.detail[k] = std::clamp(mix(a.detail[k], b.detail[k], by), 0.0, 4.0);
  out.residual = mixedResidual(a.residual, b.residual, by);
  return out;
}

Look partOfLook(const Look& look, const LookAmounts& amounts) {
  Look out = look;
  const Look none;
  const Look tone = mixedLook(none, look, amounts.tone);
  const Look colour = mixedLook(none, look, amounts.colour);
  const Look detail = mixedLook(none, look, amounts.detail);
  if (amounts.tone != 1) {
    out.exposure = tone.exposure;
    out.curve = tone.curve;
    out.black = tone.black;
    out.white = tone.white;
  }
  if (amounts.colour != 1) {
    out.saturation = colour.saturation;
    out.cast = colour.cast;
    out.residual = colour.residual;
  }
  if (amounts.detail != 1) out.detail = detail.detail;
  return out;
}

std::vector<std::string> lookInWords(const Look& look) {
  std::vector<std::string> out;
  sayTone(look, out);
  sayColour(look, out);
  sayRest(look, out);
  if (out.empty()) out.emplace_back("changes nothing");
  return out;
}

}  // namespace jugendstil
