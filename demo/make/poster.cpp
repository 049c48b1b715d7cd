// SPDX-License-Identifier: Apache-2.0
// "Lilies rising": a poster panel, flat inks within whip-lash outlines, as a stone prints it.
#include <algorithm>
#include <cmath>
#include <vector>

#include "noise.h"
#include "pictures.h"

namespace demo {
namespace {

constexpr int kWidth = 860;
constexpr int kHeight = 1140;
constexpr int kFine = 2;  // the drawing is cut this many times finer than it is printed
constexpr float kPi = 3.14159265F;
constexpr Point kHalo{430, 398};

enum Ink : std::uint8_t { kBare, kStraw, kGold, kBlush, kRose, kSage, kOlive, kMist, kTeal, kDeep };
constexpr Colour kInks[] = {{0.95F, 0.91F, 0.81F}, {0.91F, 0.80F, 0.56F}, {0.80F, 0.58F, 0.27F},
                            {0.93F, 0.76F, 0.66F}, {0.78F, 0.47F, 0.44F}, {0.66F, 0.70F, 0.52F},
                            {0.41F, 0.47F, 0.31F}, {0.71F, 0.79F, 0.76F}, {0.36F, 0.55F, 0.56F},
                            {0.19F, 0.34F, 0.40F}};
constexpr Colour kKey{0.22F, 0.15F, 0.13F};

using Curve = std::vector<Point>;

Point operator+(Point a, Point b) { return {a.x + b.x, a.y + b.y}; }
Point toward(float angle, float length) { return {std::cos(angle) * length, std::sin(angle) * length}; }

struct Plate {
  int w = kWidth * kFine;
  int h = kHeight * kFine;
  std::vector<std::uint8_t> ink, shade, key;
  Plate() : ink(size()), shade(size()), key(size()) {}
  [[nodiscard]] std::size_t size() const { return static_cast<std::size_t>(w) * static_cast<std::size_t>(h); }
  [[nodiscard]] std::size_t at(int x, int y) const {
    return static_cast<std::size_t>(y) * static_cast<std::size_t>(w) + static_cast<std::size_t>(x);
  }
};

// A smooth curve through the points (Catmull & Rom 1974).
Curve through(const Curve& points, bool closed) {
  Curve out;
  const int n = static_cast<int>(points.size());
  const auto point = [&](int i) {
    return points[static_cast<std::size_t>(closed ? (i + n) % n : std::clamp(i, 0, n - 1))];
  };
  for (int i = 0; i < (closed ? n : n - 1); ++i) {
    const Point a = point(i - 1);
    const Point b = point(i);
    const Point c = point(i + 1);
    const Point d = point(i + 2);
    const int steps = std::max(4, static_cast<int>(std::hypot(c.x - b.x, c.y - b.y)));
    for (int k = 0; k < steps; ++k) {
      const float t = static_cast<float>(k) / static_cast<float>(steps);
      const auto blend = [t](float p, float q, float r, float s) {
        return 0.5F * (2 * q + (r - p) * t + (2 * p - 5 * q + 4 * r - s) * t * t +
                       (3 * q - p - 3 * r + s) * t * t * t);
      };
      out.push_back({blend(a.x, b.x, c.x, d.x), blend(a.y, b.y, c.y, d.y)});
    }
  }
  return out;
}

// A whip-lash: nearly straight, swinging a little against its curl, then rolling up faster and faster.
Curve whip(Point p, float heading, float length, float counter, float curl) {
  Curve out;
  for (float s = 0; s < length; s += 1) {
    out.push_back(p);
    const float v = s / length;
    heading += -counter * std::sin(kPi * std::min(1.0F, v * 1.5F)) + curl * v * v * v * v;
    p = p + toward(heading, 1);
  }
  return out;
}

float breadthAt(float v, float first, float middle, float last) {
  return v < 0.5F ? first + (middle - first) * smooth(0, 0.5F, v)
                  : middle + (last - middle) * smooth(0.5F, 1, v);
}

// The outline of a ribbon round a line; its breadth goes from `first` by `middle` to `last`.
Curve ribbon(const Curve& line, float first, float middle, float last) {
  Curve left;
  Curve right;
  for (std::size_t i = 1; i + 1 < line.size(); ++i) {
    const float v = static_cast<float>(i) / static_cast<float>(line.size());
    const float w = 0.5F * breadthAt(v, first, middle, last);
    const float a = std::atan2(line[i + 1].y - line[i - 1].y, line[i + 1].x - line[i - 1].x);
    left.push_back(line[i] + toward(a + kPi / 2, w));
    right.push_back(line[i] + toward(a - kPi / 2, w));
  }
  left.insert(left.end(), right.rbegin(), right.rend());
  return left;
}

// Fills by the even-odd rule, a row at a time. `shaded(p)` tells how thickly crayon lies there, 0 to 1.
template <class Shading>
void fill(Plate& plate, const Curve& curve, Ink ink, Shading shaded) {
  float top = 1e9F;
  float bottom = -1e9F;
  for (const Point& p : curve) {
    top = std::min(top, p.y);
    bottom = std::max(bottom, p.y);
  }
  const int first = std::max(0, static_cast<int>(top * kFine));
  const int last = std::min(plate.h - 1, static_cast<int>(bottom * kFine) + 1);
  for (int y = first; y <= last; ++y) {
    const float fy = (static_cast<float>(y) + 0.5F) / kFine;
    std::vector<float> crossings;
    for (std::size_t i = 0; i < curve.size(); ++i) {
      const Point a = curve[i];
      const Point b = curve[(i + 1) % curve.size()];
      if ((a.y <= fy) != (b.y <= fy)) crossings.push_back(a.x + (b.x - a.x) * (fy - a.y) / (b.y - a.y));
    }
    std::sort(crossings.begin(), crossings.end());
    for (std::size_t i = 0; i + 1 < crossings.size(); i += 2) {
      const int from = std::max(0, static_cast<int>(std::lround(crossings[i] * kFine)));
      const int to = std::min(plate.w, static_cast<int>(std::lround(crossings[i + 1] * kFine)));
      for (int x = from; x < to; ++x) {
        const std::size_t p = plate.at(x, y);
        plate.ink[p] = ink;
        plate.key[p] = 0;
        plate.shade[p] = static_cast<std::uint8_t>(
            255 * std::clamp(shaded(Point{static_cast<float>(x) / kFine, fy}), 0.0F, 1.0F));
      }
    }
  }
}

void fill(Plate& plate, const Curve& curve, Ink ink) {
  fill(plate, curve, ink, [](Point) { return 0.0F; });
}

// A line of key ink by a hand that presses harder in the middle: breadths in pixels of the print.
void line(Plate& plate, const Curve& curve, float first, float middle, float last, std::uint32_t seed) {
  for (std::size_t i = 0; i < curve.size(); ++i) {
    const float v = static_cast<float>(i) / static_cast<float>(std::max<std::size_t>(1, curve.size() - 1));
    const float w = breadthAt(v, first, middle, last) * 0.5F * kFine *
                    (0.84F + 0.32F * noise(static_cast<float>(i) / 23, 0, seed));
    const float cx = curve[i].x * kFine;
    const float cy = curve[i].y * kFine;
    for (int y = static_cast<int>(cy - w); y <= static_cast<int>(cy + w + 1); ++y)
      for (int x = static_cast<int>(cx - w); x <= static_cast<int>(cx + w + 1); ++x) {
        if (x < 0 || y < 0 || x >= plate.w || y >= plate.h) continue;
        if (std::hypot(static_cast<float>(x) - cx, static_cast<float>(y) - cy) <= w)
          plate.key[plate.at(x, y)] = 255;
      }
  }
}

Curve circle(Point c, float r, std::uint32_t seed) {
  Curve out;
  for (float a = 0; a < 2 * kPi; a += 0.8F / r)
    out.push_back(c + toward(a, r + 1.6F * (noise(a * 4, r, seed) - 0.5F)));
  out.push_back(out.front());
  return out;
}

// One petal from its root: `lean` bends the tip.
void petal(Plate& plate, Point root, float angle, float length, float breadth, float lean, Ink ink,
           std::uint32_t seed) {
  const Point tip = root + toward(angle + lean, length);
  const Point side{-std::sin(angle), std::cos(angle)};
  const auto out = [&](float v, float w) {
    const Point p = root + toward(angle + lean * v * v, length * v);
    return Point{p.x + side.x * w * breadth, p.y + side.y * w * breadth};
  };
  const Curve edge = through({root, out(0.28F, 0.34F), out(0.58F, 0.52F), out(0.84F, 0.27F), tip,
                              out(0.86F, -0.20F), out(0.60F, -0.48F), out(0.28F, -0.36F)},
                             true);
  fill(plate, edge, ink,
       [&](Point p) { return 0.85F - std::hypot(p.x - root.x, p.y - root.y) / (length * 0.72F); });
  for (int k = -1; k <= 1; ++k) {
    const float w = 0.15F * static_cast<float>(k);
    line(plate, through({out(0.10F, w * 0.4F), out(0.4F, w * 1.4F), out(k == 0 ? 0.80F : 0.66F, w)}, false),
         1.2F, 1.7F, 0.5F, seed + 9U + static_cast<std::uint32_t>(k + 1));
  }
  line(plate, edge, 3.2F, 4.6F, 3.2F, seed);
}

void bloom(Plate& plate, Point root, float size, float turn, std::uint32_t seed) {
  struct Row {
    int count;
    float spread, length, breadth;
    Ink ink;
  };
  const Row rows[] = {
      {7, 2.75F, 1.0F, 0.40F, kRose}, {6, 2.10F, 0.98F, 0.40F, kBlush}, {5, 1.15F, 0.86F, 0.40F, kBare}};
  for (const Row& row : rows) {
    for (int k = 0; k < row.count; ++k) {
      // From both sides inwards, so that the middle petal lies on top.
      const int i = k % 2 == 0 ? k / 2 : row.count - 1 - k / 2;
      const float v = static_cast<float>(i) / static_cast<float>(row.count - 1) - 0.5F;
      const auto id = ++seed * 31U;
      petal(plate, root, -kPi / 2 + turn + v * row.spread,
            size * row.length * (0.92F + 0.16F * chance(id, 1)), size * row.breadth, v * 0.35F, row.ink, id);
    }
  }
}

void pad(Plate& plate, Point c, float rx, float turn, std::uint32_t seed) {
  const float ry = rx * 0.36F;
  Curve edge{c};
  for (float a = 0.22F; a < 2 * kPi - 0.22F; a += 0.02F) {
    const float r = 1 + 0.05F * (noise(a * 3, 1, seed) - 0.5F);
    edge.push_back({c.x + rx * r * std::cos(a + turn), c.y + ry * r * std::sin(a + turn)});
  }
  edge.push_back(c);
  fill(plate, edge, chance(seed, 3) < 0.5F ? kSage : kOlive,
       [&](Point p) { return 0.15F + 0.9F * (p.y - c.y) / ry; });
  for (int k = 1; k < 10; ++k) {
    const float a = 0.25F + 0.58F * static_cast<float>(k) + turn;
    line(plate,
         through({c,
                  {c.x + 0.5F * rx * std::cos(a + 0.06F), c.y + 0.5F * ry * std::sin(a + 0.06F)},
                  {c.x + 0.88F * rx * std::cos(a), c.y + 0.88F * ry * std::sin(a)}},
                 false),
         2.0F, 1.4F, 0.5F, seed + static_cast<std::uint32_t>(k));
  }
  line(plate, edge, 3.0F, 4.4F, 3.0F, seed);
}

void sky(Plate& plate) {
  fill(plate, {{0, 0}, {kWidth, 0}, {kWidth, kHeight}, {0, kHeight}}, kStraw);
  // Smoke in bands that roll up, from both sides.
  const Ink turns[] = {kMist, kBlush, kBare, kSage, kMist, kBare};
  for (int i = 0; i < 26; ++i) {
    const auto id = static_cast<std::uint32_t>(i) * 13U + 500U;
    const bool left = i % 2 == 0;
    const float side = left ? 1.0F : -1.0F;
    const Point from{left ? 10.0F - 40 * chance(id, 1) : kWidth - 10.0F + 40 * chance(id, 1),
                     790 - 31.0F * static_cast<float>(i) + 50 * (chance(id, 2) - 0.5F)};
    const float rise = -0.25F - 0.75F * chance(id, 3);
    const Curve spine = whip(from, left ? rise : -kPi - rise, 380 + 240 * chance(id, 4),
                             side * (0.003F + 0.003F * chance(id, 5)),
                             side * (0.05F + 0.05F * chance(id, 6)) * (chance(id, 7) < 0.3F ? -1.0F : 1.0F));
    const Curve edge = ribbon(spine, 30 + 46 * chance(id, 8), 26 + 30 * chance(id, 9), 5);
    fill(plate, edge, turns[i % 6], [&](Point p) { return 0.55F - std::fabs(p.x - from.x) / 420; });
    line(plate, edge, 2.0F, 3.4F, 2.2F, id);
    line(plate, spine, 0.6F, 1.6F, 1.4F, id + 1);
  }
}

void halo(Plate& plate) {
  fill(plate, circle(kHalo, 338, 601), kDeep);
  for (int i = 0; i < 44; ++i) {
    const float a = 2 * kPi * static_cast<float>(i) / 44;
    const auto id = static_cast<std::uint32_t>(i) + 620U;
    const auto out = [&](float turn, float r) { return kHalo + toward(a + turn, r); };
    const Curve drop = through({out(0, 290), out(0.052F, 312), out(0, 332), out(-0.052F, 312)}, true);
    fill(plate, drop, i % 2 == 0 ? kGold : kMist);
    line(plate, drop, 1.6F, 2.2F, 1.6F, id);
  }
  line(plate, circle(kHalo, 338, 601), 4.5F, 5.5F, 4.5F, 602);
  fill(plate, circle(kHalo, 284, 603), kGold,
       [](Point p) { return std::hypot(p.x - kHalo.x, p.y - kHalo.y) / 240 - 0.62F; });
  fill(plate, circle(kHalo, 214, 604), kStraw,
       [](Point p) { return std::hypot(p.x - kHalo.x, p.y - kHalo.y) / 300 - 0.35F; });
  line(plate, circle(kHalo, 284, 603), 3.4F, 4.2F, 3.4F, 605);
  line(plate, circle(kHalo, 214, 604), 2.2F, 2.8F, 2.2F, 606);
  for (int i = 0; i < 60; ++i) {
    const float a = 2 * kPi * static_cast<float>(i) / 60 + 0.03F * chance(static_cast<std::uint32_t>(i), 61);
    line(plate,
         through({kHalo + toward(a, 220), kHalo + toward(a + 0.02F, 246), kHalo + toward(a, 278)}, false),
         2.6F, 1.8F, 0.7F, 608 + static_cast<std::uint32_t>(i));
  }
}

float wave(float x, int i) {
  const auto id = static_cast<std::uint32_t>(i) + 640U;
  const float length = 120 + 60 * chance(id, 1);
  const float v = std::sin(x / length * kPi + 6 * chance(id, 2));
  return 792 + 37.0F * static_cast<float>(i) - 26 * std::pow(std::fabs(v), 0.7F) +
         9 * std::sin(x / 210 + static_cast<float>(i));
}

void water(Plate& plate) {
  const Ink bands[] = {kMist, kTeal, kDeep, kTeal, kMist, kDeep, kTeal, kMist, kDeep, kTeal};
  for (int i = 0; i < 10; ++i) {
    Curve crest;
    for (float x = -6; x <= kWidth + 6; x += 1) crest.push_back({x, wave(x, i)});
    Curve band = crest;
    band.push_back({kWidth + 6, kHeight});
    band.push_back({-6, kHeight});
    fill(plate, band, bands[i], [&](Point p) { return 0.75F - (p.y - wave(p.x, i)) / 26; });
    line(plate, crest, 3.4F, 4.2F, 3.4F, 650U + static_cast<std::uint32_t>(i));
    for (int k = 1; k < 3; ++k) {
      Curve echo;
      for (const Point& p : crest)
        echo.push_back({p.x, p.y + 9.0F * static_cast<float>(k) + 3 * noise(p.x / 50, 0, 660)});
      line(plate, echo, 0.8F, 1.8F, 0.8F, 661U + static_cast<std::uint32_t>(i * 3 + k));
    }
  }
}

void stem(Plate& plate, const Curve& points, float breadth, std::uint32_t seed) {
  const Curve spine = through(points, false);
  const Curve edge = ribbon(spine, breadth * 1.3F, breadth, breadth * 0.8F);
  fill(plate, edge, kOlive, [&](Point p) { return 0.5F + 0.5F * std::sin(p.y / 40); });
  line(plate, edge, 2.8F, 4.0F, 2.8F, seed);
}

void blade(Plate& plate, Point from, float heading, float length, float breadth, float counter, float curl,
           std::uint32_t seed) {
  const Curve spine = whip(from, heading, length, counter, curl);
  const Curve edge = ribbon(spine, breadth, breadth * 0.8F, 2);
  fill(plate, edge, chance(seed, 1) < 0.5F ? kSage : kOlive,
       [&](Point p) { return (p.y - from.y) / length + 0.8F; });
  line(plate, spine, 1.2F, 1.8F, 0.6F, seed + 1);
  line(plate, edge, 3.0F, 4.2F, 3.0F, seed);
}

void frame(Plate& plate) {
  const auto bar = [&](float x0, float y0, float x1, float y1, Ink ink) {
    fill(plate, {{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}, ink);
  };
  bar(0, 0, kWidth, 30, kDeep);
  bar(0, kHeight - 30, kWidth, kHeight, kDeep);
  bar(0, 0, 30, kHeight, kDeep);
  bar(kWidth - 30, 0, kWidth, kHeight, kDeep);
  for (const float inset : {12.0F, 30.0F}) {
    for (int side = 0; side < 4; ++side) {
      const Point corners[] = {{inset, inset},
                               {kWidth - inset, inset},
                               {kWidth - inset, kHeight - inset},
                               {inset, kHeight - inset}};
      const Point a = corners[side];
      const Point b = corners[(side + 1) % 4];
      Curve edge;
      for (float v = 0; v <= 1; v += 0.0008F) edge.push_back({a.x + (b.x - a.x) * v, a.y + (b.y - a.y) * v});
      line(plate, edge, 4.0F, 4.6F, 4.0F, 690U + static_cast<std::uint32_t>(side));
    }
  }
}

Plate drawn() {
  Plate plate;
  sky(plate);
  halo(plate);
  water(plate);
  for (int i = 0; i < 9; ++i) {
    const auto id = static_cast<std::uint32_t>(i) + 700U;
    pad(plate, {90 + 680 * chance(id, 5), 850 + 26.0F * static_cast<float>(i)}, 62 + 42 * chance(id, 6),
        6.2F * chance(id, 7), id);
  }
  stem(plate, {{250, 1140}, {300, 980}, {190, 830}, {168, 700}}, 13, 720);
  stem(plate, {{610, 1140}, {560, 1000}, {690, 860}, {700, 690}}, 13, 721);
  stem(plate, {{440, 1140}, {400, 960}, {478, 780}, {432, 520}}, 17, 722);
  blade(plate, {70, 1150}, -1.45F, 640, 40, 0.0035F, 0.06F, 730);
  blade(plate, {800, 1150}, -1.70F, 620, 42, -0.0035F, -0.06F, 731);
  blade(plate, {160, 1150}, -1.62F, 430, 34, -0.003F, -0.07F, 732);
  blade(plate, {720, 1150}, -1.50F, 450, 36, 0.003F, 0.07F, 733);
  blade(plate, {350, 1150}, -1.66F, 360, 30, 0.003F, 0.08F, 734);
  bloom(plate, {168, 712}, 120, -0.15F, 740);
  bloom(plate, {700, 702}, 126, 0.15F, 760);
  bloom(plate, {432, 534}, 236, 0, 780);
  frame(plate);
  return plate;
}

// How much of the pixel's ground a block covers, printed a little off register.
float covered(const Plate& plate, const std::vector<std::uint8_t>& block, int x, int y, Point off, int ink) {
  int sum = 0;
  for (int v = 0; v < kFine; ++v)
    for (int u = 0; u < kFine; ++u) {
      const int fx = std::clamp(x * kFine + u + static_cast<int>(off.x), 0, plate.w - 1);
      const int fy = std::clamp(y * kFine + v + static_cast<int>(off.y), 0, plate.h - 1);
      const int here = block[plate.at(fx, fy)];
      sum += ink < 0 ? here : (here == ink ? 255 : 0);
    }
  return static_cast<float>(sum) / (255.0F * kFine * kFine);
}

}  // namespace

jugendstil::Image printPoster() {
  const Plate plate = drawn();
  jugendstil::Image out(kWidth, kHeight, 3);
  for (int y = 0; y < kHeight; ++y)
    for (int x = 0; x < kWidth; ++x) {
      const float fx = static_cast<float>(x);
      const float fy = static_cast<float>(y);
      const float fibre = fractal(fx / 2.3F, fy / 2.6F, 801, 3);
      Colour c = kInks[kBare] * (0.965F + 0.05F * fibre + 0.03F * fractal(fx / 120, fy / 120, 802));
      const float tooth = fractal(fx / 1.9F, fy / 1.9F, 803, 2);  // of the stone: crayon takes on its grains
      for (int ink = kStraw; ink <= kDeep; ++ink) {
        const auto id = static_cast<std::uint32_t>(ink);
        const Point off{std::round(5 * (chance(id, 811) - 0.5F)), std::round(5 * (chance(id, 812) - 0.5F))};
        const float cover = covered(plate, plate.ink, x, y, off, ink);
        if (cover <= 0) continue;
        const float rolled =
            0.92F + 0.12F * fractal(fx / 70, fy / 70, 820 + id) - 0.30F * smooth(0.30F, 0.16F, tooth);
        const Colour pigment = kInks[ink] * (0.95F + 0.08F * fractal(fx / 24, fy / 24, 840 + id, 3));
        c = mix(c, pigment, cover * rolled);
      }
      // Crayon shades over the flat inks.
      const float shade = covered(plate, plate.shade, x, y, {1, -1}, -1);
      const float crayon = smooth(-0.10F, 0.10F, 0.62F * shade - tooth + 0.12F);
      c = mix(c, {c.r * 0.62F, c.g * 0.60F, c.b * 0.62F}, 0.8F * crayon);
      const float key = covered(plate, plate.key, x, y, {0, 0}, -1);
      const float worn = 0.97F - 0.5F * smooth(0.24F, 0.12F, fractal(fx / 2.1F, fy / 2.1F, 804, 2));
      c = mix(c, kKey * (0.9F + 0.3F * fractal(fx / 40, fy / 40, 805)), key * worn);
      out.at(x, y, 0) = std::clamp(c.r, 0.0F, 1.0F);
      out.at(x, y, 1) = std::clamp(c.g, 0.0F, 1.0F);
      out.at(x, y, 2) = std::clamp(c.b, 0.0F, 1.0F);
    }
  return out;
}

}  // namespace demo
