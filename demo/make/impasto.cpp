// SPDX-License-Identifier: Apache-2.0
// "Evening at the lily pond": thick oil in short curved strokes.
#include <algorithm>
#include <cmath>

#include "brush.h"
#include "pictures.h"

namespace demo {
namespace {

constexpr int kWidth = 1080;
constexpr int kHeight = 860;
constexpr Point kSun{700, 372};
constexpr float kHorizon = 452;
constexpr float kShore = 520;

struct Poplar {
  float x, base, height, width;
};
const Poplar kPoplars[] = {
    {120, 505, 370, 46}, {205, 508, 290, 38}, {268, 506, 200, 30}, {930, 512, 330, 44}, {1012, 515, 420, 52}};

float hill(float x) { return kHorizon - 52 * noise(x / 230, 0.3F, 61) - 26 * noise(x / 90, 4.3F, 62) + 12; }
float bank(float x) { return kShore - 26 * noise(x / 120, 7.3F, 64); }

// How far inside a poplar the point is: 0 at the edge, 1 on the axis; negative outside.
float poplar(Point p) {
  float best = -1;
  for (const Poplar& t : kPoplars) {
    const float v = (t.base - p.y) / t.height;
    if (v < 0 || v > 1) continue;
    const float body = t.width * std::sin(3.1416F * std::pow(v * 0.94F + 0.03F, 0.72F)) *
                       (0.85F + 0.4F * noise(p.x / 22, p.y / 26, 65));
    best = std::max(best, 1 - std::fabs(p.x - t.x - 9 * std::sin(v * 5 + t.x)) / std::max(1.0F, body));
  }
  return best;
}

Colour sky(Point p) {
  const float v = p.y / kHorizon;
  Colour c = mix({0.10F, 0.13F, 0.38F}, {0.33F, 0.24F, 0.56F}, smooth(0.0F, 0.42F, v));
  c = mix(c, {0.86F, 0.40F, 0.44F}, smooth(0.30F, 0.72F, v));
  c = mix(c, {0.98F, 0.68F, 0.26F}, smooth(0.60F, 1.0F, v));
  const float dx = p.x - kSun.x;
  const float dy = p.y - kSun.y;
  const float d = std::sqrt(dx * dx + dy * dy);
  c = mix(c, {1.0F, 0.83F, 0.36F}, std::exp(-d / 105));
  const float cloud = fractal(p.x / 260 + 0.3F * std::sin(p.y / 60), p.y / 62, 66);
  c = mix(c, mix({0.30F, 0.28F, 0.62F}, {1.0F, 0.55F, 0.30F}, smooth(0.25F, 0.85F, v)),
          0.75F * smooth(0.52F, 0.66F, cloud));
  c = mix(c, {0.45F, 0.62F, 0.72F},
          0.55F * smooth(0.60F, 0.72F, fractal(p.x / 190 + 8, p.y / 80 + 3, 67)) * (1 - v));
  if (d < 34) c = {1.0F, 0.94F, 0.62F};
  return c;
}

Colour land(Point p) {
  if (const float t = poplar(p); t > 0) {
    Colour c = mix({0.05F, 0.12F, 0.16F}, {0.13F, 0.25F, 0.17F}, noise(p.x / 9, p.y / 16, 68));
    const bool lit = std::sin(p.x * 0.11F) + (kSun.x > p.x ? 0.4F : -0.4F) > 0.9F;
    return lit && t < 0.55F ? mix(c, {0.62F, 0.38F, 0.14F}, 0.6F) : c;
  }
  if (p.y > hill(p.x) && p.y < bank(p.x)) {
    const float v = (p.y - hill(p.x)) / (bank(p.x) - hill(p.x));
    Colour c = mix({0.26F, 0.22F, 0.46F}, {0.16F, 0.32F, 0.22F}, smooth(0.1F, 0.7F, v));
    return mix(c, {0.72F, 0.50F, 0.20F}, 0.55F * smooth(0.5F, 0.7F, fractal(p.x / 70, p.y / 14, 69)));
  }
  return sky(p);
}

Colour scene(Point p) {
  if (p.y <= bank(p.x)) return land(p);
  const float depth = (p.y - bank(p.x)) / (kHeight - kShore);
  const float wave = 16 * depth * std::sin(p.y * 0.21F + 3 * noise(p.x / 60, p.y / 20, 70));
  const Point mirrored{p.x + wave, std::max(2.0F, 2 * bank(p.x) - p.y * 1.0F - depth * 40)};
  Colour c = mix(land(mirrored), {0.08F, 0.14F, 0.34F}, 0.28F + 0.3F * depth);
  const float lane = std::exp(-std::fabs(p.x - kSun.x + wave * 2) / (18 + 80 * depth));
  c = mix(c, {1.0F, 0.72F, 0.28F}, lane * 0.85F * smooth(0.42F, 0.6F, noise(p.x / 30, p.y / 7, 71)));
  const float pad = fractal(p.x / 120, p.y / 26, 72);
  if (depth > 0.25F && pad > 0.60F) {
    c = mix({0.10F, 0.30F, 0.24F}, {0.36F, 0.48F, 0.20F}, noise(p.x / 14, p.y / 8, 73));
    if (noise(p.x / 16, p.y / 13, 74) > 0.80F) c = {0.96F, 0.72F, 0.76F};
  }
  return c;
}

float heading(Point p) {
  if (p.y <= bank(p.x)) {
    if (poplar(p) > -0.1F)
      return 1.5708F + 0.5F * (noise(p.x / 18, p.y / 30, 75) - 0.5F) + 0.25F * std::sin(p.y / 23);
    if (p.y > hill(p.x)) return 0.35F * std::cos(p.x / 70);
    // Round the sun, loosened by eddies.
    const float round = std::atan2(p.x - kSun.x, -(p.y - kSun.y) * 1.5F);
    const float far = smooth(60, 420, std::hypot(p.x - kSun.x, p.y - kSun.y));
    return round + far * 2.6F * (fractal(p.x / 300, p.y / 220, 76, 3) - 0.5F);
  }
  return 0.30F * std::sin(p.x / 60 + p.y / 17) + 0.4F * (noise(p.x / 50, p.y / 12, 77) - 0.5F);
}

}  // namespace

jugendstil::Image paintImpasto() {
  Canvas canvas(kWidth, kHeight, {0.42F, 0.27F, 0.19F});
  const Field direction = [](float x, float y) { return heading({x, y}); };
  struct Layer {
    float width, spacing, length, jitter, load;
  };
  const Layer layers[] = {
      {17, 15, 120, 0.05F, 0.75F}, {10, 10.5F, 74, 0.085F, 1.0F}, {6.5F, 9.5F, 46, 0.11F, 1.2F}};
  std::uint32_t seed = 1000;
  for (const Layer& layer : layers) {
    std::vector<Stroke> strokes;
    for (float y = -layer.width; y < kHeight + layer.width; y += layer.spacing) {
      for (float x = -layer.width; x < kWidth + layer.width; x += layer.spacing) {
        const std::uint32_t id = ++seed;
        Stroke s;
        s.seed = id;
        s.start = {x + layer.spacing * (chance(id, 1) - 0.5F) * 1.6F,
                   y + layer.spacing * (chance(id, 2) - 0.5F) * 1.6F};
        s.width = layer.width * (0.7F + 0.5F * chance(id, 3));
        s.length = layer.length * (0.6F + 0.8F * chance(id, 4));
        const Colour c =
            scene({std::clamp(s.start.x, 0.0F, kWidth - 1.0F), std::clamp(s.start.y, 0.0F, kHeight - 1.0F)});
        const float value = layer.jitter * (chance(id, 5) - 0.5F) * 2;
        const float warm = layer.jitter * (chance(id, 6) - 0.5F) * 1.6F;
        s.colour = {std::clamp(c.r * (1 + value) + warm, 0.02F, 1.0F),
                    std::clamp(c.g * (1 + value), 0.02F, 1.0F),
                    std::clamp(c.b * (1 + value) - warm, 0.02F, 1.0F)};
        s.load = layer.load * (0.6F + 0.8F * chance(id, 7));
        strokes.push_back(s);
      }
    }
    // Each layer in no order, or rows would overlap like roof tiles.
    std::sort(strokes.begin(), strokes.end(),
              [](const Stroke& a, const Stroke& b) { return hash(a.seed, 9, 9) < hash(b.seed, 9, 9); });
    for (const Stroke& s : strokes) draw(canvas, s, direction);
  }
  return lit(canvas, 0.85F, 0.16F);
}

}  // namespace demo
