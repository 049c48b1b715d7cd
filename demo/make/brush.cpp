// SPDX-License-Identifier: Apache-2.0
#include "brush.h"

#include <algorithm>
#include <cmath>

namespace demo {

Canvas::Canvas(int w, int h, Colour ground)
    : colour(w, h, 3), height(static_cast<std::size_t>(w) * static_cast<std::size_t>(h), 0.0F) {
  for (std::size_t i = 0; i < colour.area(); ++i) {
    colour.pixels[i * 3] = ground.r;
    colour.pixels[i * 3 + 1] = ground.g;
    colour.pixels[i * 3 + 2] = ground.b;
  }
}

namespace {

struct Mark {
  float along;   // 0..1
  float across;  // -1..1
};

void touch(Canvas& canvas, const Stroke& s, Point p, Mark m) {
  const int x = static_cast<int>(std::lround(p.x));
  const int y = static_cast<int>(std::lround(p.y));
  if (x < 0 || y < 0 || x >= canvas.colour.width || y >= canvas.colour.height) return;
  const float bristles = s.width * 1.1F;
  const float furrow = noise(m.across * bristles + 50, m.along * s.length * 0.035F, s.seed);
  const float fine = noise(m.across * bristles * 2.7F + 90, m.along * s.length * 0.09F, s.seed + 7);
  const float edge = std::fabs(m.across);
  const float ragged =
      0.82F + 0.18F * noise(m.along * s.length * 0.22F, m.across > 0 ? 3.0F : 9.0F, s.seed + 3);
  const float dryness = smooth(0.62F, 1.0F, m.along) * 0.95F + smooth(0.05F, 0.0F, m.along) * 0.5F;
  float cover =
      smooth(ragged, ragged - 0.16F, edge) * smooth(dryness - 0.25F, dryness + 0.08F, 0.35F + 0.65F * furrow);
  cover *= 0.80F + 0.20F * s.load;
  if (cover <= 0.01F) return;
  const float tint = 1 + 0.16F * (furrow - 0.5F) + 0.10F * (fine - 0.5F);
  const std::size_t i = canvas.colour.index(x, y, 0);
  const Colour c = s.colour * tint;
  float* px = &canvas.colour.pixels[i];
  px[0] += (c.r - px[0]) * cover;
  px[1] += (c.g - px[1]) * cover;
  px[2] += (c.b - px[2]) * cover;
  const float ridge = smooth(0.5F, 0.86F, edge) * 0.5F + smooth(0.72F, 0.95F, m.along) * 0.35F;
  const float relief = s.load * (0.35F + 0.55F * furrow + 0.18F * fine + ridge);
  float& h = canvas.height[i / 3];
  h += (h * 0.35F + relief - h) * cover;
}

}  // namespace

void draw(Canvas& canvas, const Stroke& s, const Field& direction) {
  constexpr float kStep = 0.6F;
  Point p = s.start;
  float heading = direction(p.x, p.y) + (chance(s.seed, 21) < 0.5F ? 3.14159265F : 0.0F);
  for (float done = 0; done < s.length; done += kStep) {
    // The field has no sign: the brush goes on the way it was going.
    float turn = std::remainder(direction(p.x, p.y) - heading, 3.14159265F);
    heading += turn * 0.12F;
    const Point n{-std::sin(heading), std::cos(heading)};
    const float along = done / s.length;
    const float w = s.width * (0.72F + 0.28F * std::sin(3.14159265F * std::min(1.0F, along * 1.3F + 0.12F)));
    for (float v = -w; v <= w; v += kStep) touch(canvas, s, {p.x + n.x * v, p.y + n.y * v}, {along, v / w});
    p.x += std::cos(heading) * kStep;
    p.y += std::sin(heading) * kStep;
  }
}

jugendstil::Image lit(const Canvas& canvas, float depth, float gloss) {
  jugendstil::Image out = canvas.colour;
  const int w = out.width;
  const int h = out.height;
  const auto at = [&](int x, int y) {
    x = std::clamp(x, 0, w - 1);
    y = std::clamp(y, 0, h - 1);
    return canvas
        .height[static_cast<std::size_t>(y) * static_cast<std::size_t>(w) + static_cast<std::size_t>(x)];
  };
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      const float gx = depth * (at(x + 1, y) - at(x - 1, y));
      const float gy = depth * (at(x, y + 1) - at(x, y - 1));
      const float length = std::sqrt(gx * gx + gy * gy + 1);
      const float facing = (0.45F * gx + 0.60F * gy + 0.66F) / length;
      const float shade = 0.42F + 0.88F * std::max(0.0F, facing);
      const float mirror = (0.26F * gx + 0.36F * gy + 0.90F) / length;
      const float glint =
          gloss * std::pow(std::max(0.0F, mirror), 40.0F) * smooth(0.02F, 0.5F, gx * gx + gy * gy);
      for (int c = 0; c < 3; ++c) out.at(x, y, c) = std::clamp(out.at(x, y, c) * shade + glint, 0.0F, 1.0F);
    }
  }
  return out;
}

}  // namespace demo
