// SPDX-License-Identifier: Apache-2.0
// "Rain leaves the moor": transparent washes on rough paper.
//
// Layers of pigment over white paper, each with what water does to it: it carries pigment to the drying edge,
// settles it in the paper's valleys, runs into what is still wet and pushes blooms back into what is not
// (after Curtis, Anderson, Seims, Fleischer & Salesin 1997, "Computer-generated watercolor").
#include <algorithm>
#include <cmath>
#include <functional>
#include <vector>

#include "noise.h"
#include "pictures.h"
#include "regions.h"

namespace demo {
namespace {

constexpr int kWidth = 1100;
constexpr int kHeight = 840;
constexpr std::size_t kArea = static_cast<std::size_t>(kWidth) * kHeight;

// What a unit of each pigment takes from red, green and blue light.
constexpr Colour kBlue{1.75F, 1.00F, 0.28F};
constexpr Colour kGrey{1.25F, 1.10F, 0.85F};
constexpr Colour kGreen{1.25F, 0.50F, 1.55F};
constexpr Colour kOlive{0.75F, 0.55F, 1.60F};
constexpr Colour kOchre{0.14F, 0.48F, 1.50F};
constexpr Colour kRose{0.22F, 1.25F, 0.75F};
constexpr Colour kSienna{0.40F, 1.15F, 1.75F};

using Shape = std::function<float(Point)>;  // above 0 inside, about in pixels

struct Wash {
  Shape shape;
  Colour pigment;
  float density = 0.5F;
  float wet = 0.3F;      // share of the edge that runs softly
  float grain = 0.3F;    // how much settles in the valleys
  float edge = 0.6F;     // how much more dries at the edge
  float blooms = 0.3F;   // how strongly water pushed back
  float uneven = 0.55F;  // lighter and darker over wide places
};

using Paper = std::vector<float>;  // its height, about 0 to 1

Paper roughPaper() {
  Paper paper(kArea);
  for (int y = 0; y < kHeight; ++y)
    for (int x = 0; x < kWidth; ++x) {
      const float fx = static_cast<float>(x);
      const float fy = static_cast<float>(y);
      paper[static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x)] =
          0.55F * fractal(fx / 6.2F, fy / 5.6F, 301, 3) + 0.45F * fractal(fx / 3.1F, fy / 3.4F, 302, 2);
    }
  return paper;
}

// Three box means in a row: close to a Gaussian.
std::vector<float> softened(std::vector<float> v, int radius) {
  std::vector<float> next(v.size());
  const auto pass = [&](int lines, int count, std::size_t line, std::size_t step) {
    for (int j = 0; j < lines; ++j) {
      const std::size_t first = static_cast<std::size_t>(j) * line;
      const auto at = [&](int i) {
        return v[first + static_cast<std::size_t>(std::clamp(i, 0, count - 1)) * step];
      };
      float sum = 0;
      for (int i = -radius; i <= radius; ++i) sum += at(i);
      for (int i = 0; i < count; ++i) {
        next[first + static_cast<std::size_t>(i) * step] = sum / static_cast<float>(2 * radius + 1);
        sum += at(i + radius + 1) - at(i - radius);
      }
    }
    std::swap(v, next);
  };
  for (int i = 0; i < 3; ++i) {
    pass(kHeight, kWidth, kWidth, 1);
    pass(kWidth, kHeight, 1, kWidth);
  }
  return v;
}

// Where water ran back: a paler middle, pigment heaped at its ragged rim.
float bloom(Point p, std::uint32_t seed) {
  float change = 0;
  for (std::uint32_t i = 0; i < 9; ++i) {
    const Point c{kWidth * chance(seed, i, 1), kHeight * chance(seed, i, 2)};
    const float radius = 26 + 74 * chance(seed, i, 3);
    const float d = std::hypot(p.x - c.x, (p.y - c.y) * 1.25F);
    if (d > radius * 1.8F) continue;
    const float angle = std::atan2(p.y - c.y, p.x - c.x);
    const float ragged = radius * (0.72F + 0.38F * fractal(angle * 2.4F + 9, d / 46, seed + i, 4) +
                                   0.20F * noise(angle * 9 + 40, d / 9, seed + 50 + i));
    change -= 0.55F * smooth(ragged, ragged * 0.55F, d);
    change += 0.95F * std::exp(-std::fabs(d - ragged) / 2.6F) * smooth(ragged * 0.6F, ragged, d);
  }
  return change;
}

// Lays one wash: adds to what is taken from the light.
void lay(const Wash& wash, const Paper& paper, std::uint32_t seed, jugendstil::Image& taken) {
  std::vector<int> inside(kArea);
  std::vector<float> cover(kArea);
  for (int y = 0; y < kHeight; ++y)
    for (int x = 0; x < kWidth; ++x) {
      const float fx = static_cast<float>(x);
      const float fy = static_cast<float>(y);
      const std::size_t i = static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x);
      const Point hand{fx + 13 * (fractal(fx / 44, fy / 44, seed, 4) - 0.5F),
                       fy + 13 * (fractal(fx / 44, fy / 44, seed + 1, 4) - 0.5F)};
      // A dragged brush misses the valleys near the edge.
      inside[i] = wash.shape(hand) + 4.5F * (paper[i] - 0.5F) > 0 ? 1 : 0;
      cover[i] = static_cast<float>(inside[i]);
    }
  const std::vector<float> depth = distanceToContour(inside, kWidth, kHeight);
  const std::vector<float> run = softened(cover, 11);
  for (int y = 0; y < kHeight; ++y)
    for (int x = 0; x < kWidth; ++x) {
      const float fx = static_cast<float>(x);
      const float fy = static_cast<float>(y);
      const std::size_t i = static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x);
      const float wetness =
          smooth(1.02F - wash.wet, 1.14F - wash.wet, fractal(fx / 120, fy / 90, seed + 2, 3));
      const float dry = inside[i] != 0 ? smooth(-0.5F, 1.2F, depth[i]) : 0.0F;
      const float feathered =
          std::clamp(run[i] + 0.5F * (fractal(fx / 26, fy / 20, seed + 3, 4) - 0.5F) * run[i], 0.0F, 1.0F);
      const float there = dry + (feathered - dry) * wetness;
      if (there < 0.004F) continue;
      const float rim = wash.edge * (0.75F * std::exp(-depth[i] / 1.7F) + 0.35F * std::exp(-depth[i] / 6)) *
                        (1 - wetness) * (0.4F + 1.2F * noise(fx / 33, fy / 33, seed + 4));
      const float valley =
          wash.grain * (1.9F * (0.5F - paper[i]) + 0.55F * (noise(fx / 1.9F, fy / 1.9F, seed + 5) - 0.5F));
      const float pool = wash.uneven * (fractal(fx / 190, fy / 150, seed + 6, 4) - 0.5F) * 1.6F;
      const float back = wash.blooms * bloom({fx, fy}, seed + 7);
      const float density = wash.density * there * std::max(0.06F, 1 + rim + valley + pool + back);
      float* t = &taken.pixels[i * 3];
      t[0] += density * wash.pigment.r;
      t[1] += density * wash.pigment.g;
      t[2] += density * wash.pigment.b;
    }
}

float ridge(float x, float level, float rise, float scale, std::uint32_t seed) {
  return level - rise * fractal(x / scale, 0.7F, seed, 4);
}

float blob(Point p, Point centre, float rx, float ry) {
  return (1 - std::hypot((p.x - centre.x) / rx, (p.y - centre.y) / ry)) * std::min(rx, ry);
}

// Clumps of leaves: dabs within a crown, fewer towards its rim.
float leaves(Point p, Point centre, float rx, float ry, float fill, std::uint32_t seed) {
  const float crown = blob(p, centre, rx, ry) + 86 * (fractal(p.x / 64, p.y / 58, seed + 9, 3) - 0.5F);
  if (crown < -18) return crown;
  const float dabs = fractal(p.x / 21, p.y / 16, seed, 3) - (0.80F - fill) + 0.006F * crown;
  return std::min(crown + 16, dabs * 70);
}

struct Tree {
  Point crown;
  float rx, ry, foot;
};
constexpr Tree kTrees[] = {{{188, 330}, 128, 150, 560},
                           {{330, 400}, 76, 96, 556},
                           {{905, 352}, 118, 132, 566},
                           {{1030, 396}, 92, 112, 570}};

float crowns(Point p, float fill, Point shift, std::uint32_t seed) {
  float best = -99;
  for (const Tree& t : kTrees) {
    best = std::max(best, leaves(p, {t.crown.x + shift.x, t.crown.y + shift.y}, t.rx, t.ry, fill, seed));
  }
  return best;
}

float trunks(Point p) {
  float best = -99;
  for (const Tree& t : kTrees) {
    if (p.y < t.crown.y - 40 || p.y > t.foot) continue;
    const float v = (p.y - t.crown.y) / (t.foot - t.crown.y);
    for (int k = -1; k <= 1; ++k) {
      const float lean = static_cast<float>(k) * 34 * (1 - v) * (v < 0.75F ? 1.0F : 0.0F);
      const float breadth = (k == 0 ? 4.0F : 2.2F) + 4.5F * v * v;
      best = std::max(best, breadth - std::fabs(p.x - t.crown.x - lean - 5 * std::sin(p.y / 31)));
    }
  }
  return best;
}

float bank(float x) { return 566 + 13 * noise(x / 90, 3.3F, 320) - 7; }

// A boat-house with a steep roof.
float wallOf(Point p) {
  return std::min(68 - std::fabs(p.x - 610), std::min(p.y - 470, bank(p.x) + 2 - p.y));
}
float roofOf(Point p) {
  const float v = (p.y - 386) / 92;
  return v < 0 || v > 1 ? -9.0F : 12 + 80 * v - std::fabs(p.x - 606 - 6 * std::sin(p.y / 20));
}

float house(Point p) { return std::max(roofOf(p), wallOf(p)); }

float reeds(Point p) {
  float best = -9;
  for (std::uint32_t i = 1; i < 44; ++i) {
    const float base = i % 3 == 0 ? 760 + 360 * chance(i, 1) : -20 + 300 * chance(i, 1);
    const float height = 90 + 190 * chance(i, 2);
    const float v = (kHeight + 6 - p.y) / height;
    if (v < 0 || v > 1) continue;
    best =
        std::max(best, 4.6F * (1 - v) + 0.5F - std::fabs(p.x - base - (chance(i, 3) - 0.42F) * 130 * v * v));
  }
  return best;
}

float splash(Point p) {
  float best = -9;
  for (std::uint32_t i = 1; i < 70; ++i) {
    const Point c{kWidth * chance(i, 5), kHeight * chance(i, 6)};
    best = std::max(best, 0.9F + 3.4F * chance(i, 7) * chance(i, 8) - std::hypot(p.x - c.x, p.y - c.y));
  }
  return best;
}

// Ripples left bare, closer together far away.
float ripple(Point p, float bare, std::uint32_t seed) {
  const float depth = (p.y - 560) / 280;
  return (fractal(p.x / (90 + 120 * depth), p.y / (5 + 13 * depth), seed, 3) - bare) * 90;
}

std::vector<Wash> painting() {
  const auto water = [](Point p) { return p.y - bank(p.x); };
  const auto far = [](Point p) {
    return std::min(std::min(p.y - ridge(p.x, 470, 150, 300, 311), 560 - p.y), 2 - house(p));
  };
  const auto near = [](Point p) {
    return std::min(std::min(p.y - ridge(p.x + 70, 540, 120, 210, 312), 568 - p.y), 2 - house(p));
  };
  std::vector<Wash> list;
  list.push_back({[](Point) { return 50.0F; }, kOchre, 0.10F, 0.0F, 0.2F, 0, 0.5F, 0.8F});
  // A sky of three washes, with clouds kept dry.
  list.push_back({[](Point p) { return (fractal(p.x / 250, p.y / 120, 313, 5) - 0.40F - p.y / 2300) * 240; },
                  kBlue, 0.44F, 0.60F, 0.6F, 0.9F, 0.7F, 1.1F});
  list.push_back(
      {[](Point p) { return std::min((0.53F - fractal(p.x / 210 + 5, p.y / 90, 314, 4)) * 200, 300 - p.y); },
       kGrey, 0.30F, 0.62F, 0.6F, 0.9F, 0.9F, 1.0F});
  list.push_back({[](Point p) { return 70 - std::fabs(p.y - 400) + 60 * fractal(p.x / 180, 2, 315, 3); },
                  kRose, 0.26F, 0.85F, 0.3F, 0.3F, 0.5F, 1.1F});
  list.push_back({[](Point p) { return 60 - std::fabs(p.y - 440) + 30 * fractal(p.x / 120, 6, 316, 3); },
                  kOchre, 0.42F, 0.85F, 0.3F, 0.3F, 0.4F, 1.0F});
  list.push_back({far, kBlue, 0.34F, 0.40F, 0.7F, 0.8F, 0.6F, 0.9F});
  list.push_back(
      {[far](Point p) { return std::min(far(p), (fractal(p.x / 60, p.y / 30, 317, 3) - 0.5F) * 60); }, kRose,
       0.20F, 0.4F, 0.4F, 0.6F, 0.3F, 0.8F});
  list.push_back({near, kOlive, 0.36F, 0.34F, 0.5F, 0.8F, 0.6F, 0.9F});
  list.push_back(
      {[near](Point p) { return std::min(near(p) - 9, (fractal(p.x / 50, p.y / 16, 318, 3) - 0.52F) * 60); },
       kGreen, 0.34F, 0.30F, 0.45F, 0.9F, 0.3F, 0.8F});
  list.push_back({wallOf, kOchre, 0.46F, 0.12F, 0.3F, 0.8F, 0.2F, 0.9F});
  list.push_back(
      {[](Point p) { return std::min(wallOf(p), p.x - 622); }, kBlue, 0.50F, 0.12F, 0.5F, 0.8F, 0.1F, 0.7F});
  list.push_back({roofOf, kSienna, 0.80F, 0.16F, 0.5F, 0.9F, 0.4F, 0.9F});
  list.push_back(
      {[](Point p) { return std::min(roofOf(p), p.x - 616); }, kBlue, 0.42F, 0.1F, 0.5F, 0.7F, 0.1F, 0.7F});
  list.push_back(
      {[](Point p) { return std::min(20 - std::fabs(p.x - 588), std::min(p.y - 500, bank(p.x) - p.y)); },
       kGrey, 1.25F, 0.1F, 0.4F, 0.6F, 0.1F, 0.8F});
  // Crowns, light to dark.
  list.push_back({[](Point p) {
                    return crowns(p, 0.46F, {0, 0}, 321);
                  },
                  kOlive, 0.40F, 0.30F, 0.45F, 0.9F, 0.5F, 1.0F});
  list.push_back({[](Point p) {
                    return crowns(p, 0.33F, {14, 18}, 322);
                  },
                  kGreen, 0.46F, 0.26F, 0.45F, 0.9F, 0.4F, 1.0F});
  list.push_back({trunks, kSienna, 0.85F, 0.12F, 0.4F, 0.5F, 0.0F, 0.6F});
  list.push_back({[](Point p) {
                    return crowns(p, 0.235F, {24, 34}, 323);
                  },
                  kBlue, 0.52F, 0.20F, 0.5F, 0.8F, 0.2F, 0.8F});
  // Water: a pale ground, what is mirrored, darker reaches.
  list.push_back({[water](Point p) { return std::min(water(p), ripple(p, 0.30F, 324)); }, kBlue, 0.30F, 0.40F,
                  0.55F, 0.9F, 0.7F, 1.1F});
  list.push_back(
      {[water](Point p) {
         const Point up{p.x + 10 * std::sin(p.y / 9), 2 * bank(p.x) - p.y - 8};
         return std::min(std::min(water(p), ripple(p, 0.36F, 325)), crowns(up, 0.50F, {0, 0}, 326));
       },
       kOlive, 0.46F, 0.48F, 0.4F, 0.8F, 0.4F, 0.9F});
  list.push_back({[water](Point p) {
                    const Point up{p.x + 8 * std::sin(p.y / 8), 2 * bank(p.x) - p.y - 6};
                    return std::min(std::min(water(p), ripple(p, 0.38F, 327)), house(up));
                  },
                  kSienna, 0.52F, 0.40F, 0.4F, 0.7F, 0.3F, 0.8F});
  list.push_back({[water](Point p) { return std::min(water(p) - 90, ripple(p, 0.56F, 328)); }, kGrey, 0.42F,
                  0.22F, 0.6F, 0.9F, 0.2F, 0.9F});
  list.push_back({[](Point p) { return 5.5F - std::fabs(p.y - bank(p.x) + 3) + 3 * noise(p.x / 19, 1, 329); },
                  kSienna, 0.70F, 0.2F, 0.4F, 0.6F, 0.0F, 0.9F});
  list.push_back({reeds, kGreen, 1.0F, 0.10F, 0.4F, 0.6F, 0.0F, 0.8F});
  list.push_back({splash, kGrey, 0.50F, 0.0F, 0.3F, 0.8F, 0.0F, 0.6F});
  return list;
}

}  // namespace

jugendstil::Image washMoor() {
  const Paper paper = roughPaper();
  jugendstil::Image taken(kWidth, kHeight, 3);
  std::uint32_t seed = 400;
  for (const Wash& wash : painting()) lay(wash, paper, seed += 20, taken);
  jugendstil::Image out(kWidth, kHeight, 3);
  for (int y = 0; y < kHeight; ++y)
    for (int x = 0; x < kWidth; ++x) {
      const auto height = [&](int u, int v) {
        return paper[static_cast<std::size_t>(std::clamp(v, 0, kHeight - 1)) * kWidth +
                     static_cast<std::size_t>(std::clamp(u, 0, kWidth - 1))];
      };
      const float relief = 1 + 0.22F * (height(x + 1, y + 1) - height(x - 1, y - 1));
      constexpr Colour kPaper{0.965F, 0.950F, 0.915F};
      const float white[] = {kPaper.r, kPaper.g, kPaper.b};
      for (int c = 0; c < 3; ++c)
        out.at(x, y, c) = std::clamp(white[c] * std::exp(-taken.at(x, y, c)) * relief, 0.0F, 1.0F);
    }
  return out;
}

}  // namespace demo
