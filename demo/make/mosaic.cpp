// SPDX-License-Identifier: Apache-2.0
// "The sun lily": glass and gold tesserae in courses that follow the contours.
#include <algorithm>
#include <cmath>
#include <vector>

#include "noise.h"
#include "pictures.h"
#include "regions.h"

namespace demo {
namespace {

constexpr int kSize = 1040;
constexpr float kTile = 15.5F;

enum Region : int {
  kSky,
  kSkyDeep,
  kSun,
  kRayA,
  kRayB,
  kWaveA,
  kWaveB,
  kWaveC,
  kPetal,
  kPetalDark,
  kHeart,
  kLeaf,
  kLeafDark,
  kBorder,
  kBorderGold
};

float petalDistance(Point p, float angle, float length, float width) {
  const float c = std::cos(angle);
  const float s = std::sin(angle);
  const float u = (p.x * c + p.y * s) / length;
  const float v = (-p.x * s + p.y * c) / width;
  if (u < 0 || u > 1) return 2;
  return std::fabs(v) / (std::sin(3.1416F * std::pow(u, 0.8F)) + 0.001F);
}

int regionAt(float x, float y) {
  const float frame = std::min(std::min(x, kSize - x), std::min(y, kSize - y));
  if (frame < 34) return frame < 17 ? kBorder : kBorderGold;
  const Point lily{x - 520, y - 760};
  // Back petals first in the test, as the front ones hide them.
  for (int i = -1; i <= 1; ++i)
    if (petalDistance(lily, -1.5708F + 0.52F * static_cast<float>(i),
                      300.0F - 24.0F * static_cast<float>(i * i), 62) < 1)
      return kPetal;
  for (int i = -2; i <= 2; ++i)
    if (i != 0 &&
        petalDistance(lily, -1.5708F + 0.50F * static_cast<float>(i) + (i > 0 ? 0.22F : -0.22F), 310, 58) < 1)
      return kPetalDark;
  if (std::hypot(lily.x, (lily.y + 6) * 1.5F) < 58) return kHeart;
  for (int i = 0; i < 4; ++i) {
    const float a = 0.10F + 0.16F * static_cast<float>(i % 2);
    const bool right = i < 2;
    const float angle = right ? a : 3.1416F - a;
    const float d = petalDistance({lily.x, lily.y - 14 - 44.0F * static_cast<float>(i % 2)}, angle, 400, 58);
    if (d < 1) return d < 0.34F ? kLeafDark : kLeaf;
  }
  const float crest = 640 + 22 * std::sin(x / 74) + 10 * std::sin(x / 31 + 2);
  if (y > crest) {
    const float band = (y - crest) + 15 * std::sin(x / 52 + y / 140);
    const int k = static_cast<int>(band / 52);
    return k % 3 == 0 ? kWaveA : (k % 3 == 1 ? kWaveB : kWaveC);
  }
  const float dx = x - 520;
  const float dy = y - 330;
  const float d = std::hypot(dx, dy);
  if (d < 122) return kSun;
  const float angle = std::atan2(dy, dx) + 0.0009F * d;
  const float ray = std::remainder(angle, 6.2832F / 16);
  const float reach = 300.0F + 44.0F * std::cos(8 * angle);
  if (d < reach && std::fabs(ray) * d < 30 * (1 - (d - 122) / (reach - 122)) + 4) {
    return (static_cast<int>(std::lround(angle / (6.2832F / 16))) & 1) != 0 ? kRayA : kRayB;
  }
  return fractal(x / 210, y / 130, 80, 3) + 0.0005F * (d - 320) > 0.56F ? kSkyDeep : kSky;
}

Colour glass(int region, float t, float u) {
  switch (region) {
    case kSky:
      return mix({0.36F, 0.62F, 0.66F}, {0.56F, 0.76F, 0.72F}, t);
    case kSkyDeep:
      return mix({0.14F, 0.36F, 0.52F}, {0.24F, 0.50F, 0.62F}, t);
    case kSun:
      return mix({0.93F, 0.70F, 0.22F}, {0.98F, 0.86F, 0.46F}, t);
    case kRayA:
      return mix({0.86F, 0.44F, 0.12F}, {0.94F, 0.62F, 0.20F}, t);
    case kRayB:
      return mix({0.76F, 0.22F, 0.14F}, {0.88F, 0.38F, 0.20F}, t);
    case kWaveA:
      return mix({0.06F, 0.18F, 0.34F}, {0.10F, 0.30F, 0.46F}, t);
    case kWaveB:
      return mix({0.10F, 0.40F, 0.48F}, {0.22F, 0.56F, 0.58F}, t);
    case kWaveC:
      return u < 0.25F ? Colour{0.86F, 0.88F, 0.82F} : mix({0.08F, 0.28F, 0.42F}, {0.18F, 0.46F, 0.56F}, t);
    case kPetal:
      return mix({0.92F, 0.78F, 0.76F}, {0.98F, 0.93F, 0.88F}, t);
    case kPetalDark:
      return mix({0.70F, 0.34F, 0.46F}, {0.88F, 0.58F, 0.64F}, t);
    case kHeart:
      return mix({0.90F, 0.62F, 0.14F}, {0.98F, 0.80F, 0.30F}, t);
    case kLeaf:
      return mix({0.16F, 0.42F, 0.24F}, {0.38F, 0.60F, 0.28F}, t);
    case kLeafDark:
      return mix({0.06F, 0.24F, 0.18F}, {0.14F, 0.36F, 0.24F}, t);
    case kBorder:
      return mix({0.08F, 0.12F, 0.22F}, {0.16F, 0.20F, 0.32F}, t);
    default:
      return mix({0.84F, 0.60F, 0.20F}, {0.96F, 0.78F, 0.36F}, t);
  }
}

struct Tessera {
  float x, y;
  float c, s;  // its frame's axes
  int region;
};

struct Work {
  std::vector<int> region;
  std::vector<float> depth;  // distance to the region's contour, pixels
  std::vector<Tessera> tesserae;
  std::vector<int> owner;
  std::vector<float> first, second;  // distances to the nearest and next tessera
};

std::size_t at(int x, int y) {
  return static_cast<std::size_t>(std::clamp(y, 0, kSize - 1)) * kSize +
         static_cast<std::size_t>(std::clamp(x, 0, kSize - 1));
}

void orient(const Work& w, Tessera& t) {
  const int x = static_cast<int>(t.x);
  const int y = static_cast<int>(t.y);
  constexpr int k = 5;
  float gx = w.depth[at(x + k, y)] - w.depth[at(x - k, y)];
  float gy = w.depth[at(x, y + k)] - w.depth[at(x, y - k)];
  const float length = std::hypot(gx, gy);
  if (length < 1.2F) return;
  t.c = gx / length;
  t.s = gy / length;
}

// Pixels go to the nearest tessera of their region in its own square metric (after Hausner 2001).
void assign(Work& w) {
  constexpr int kCell = 24;
  constexpr int kCells = kSize / kCell + 1;
  std::vector<std::vector<int>> cells(static_cast<std::size_t>(kCells) * kCells);
  for (std::size_t i = 0; i < w.tesserae.size(); ++i) {
    const Tessera& t = w.tesserae[i];
    cells[static_cast<std::size_t>(t.y / kCell) * kCells + static_cast<std::size_t>(t.x / kCell)].push_back(
        static_cast<int>(i));
  }
  w.owner.assign(w.region.size(), -1);
  w.first.assign(w.region.size(), 1e6F);
  w.second.assign(w.region.size(), 1e6F);
  for (int y = 0; y < kSize; ++y) {
    for (int x = 0; x < kSize; ++x) {
      const std::size_t p = at(x, y);
      for (int j = std::max(0, y / kCell - 1); j <= std::min(kCells - 1, y / kCell + 1); ++j) {
        for (int i = std::max(0, x / kCell - 1); i <= std::min(kCells - 1, x / kCell + 1); ++i) {
          for (const int k : cells[static_cast<std::size_t>(j) * kCells + static_cast<std::size_t>(i)]) {
            const Tessera& t = w.tesserae[static_cast<std::size_t>(k)];
            if (t.region != w.region[p]) continue;
            const float dx = static_cast<float>(x) - t.x;
            const float dy = static_cast<float>(y) - t.y;
            const float a = std::fabs(dx * t.c + dy * t.s);
            const float b = std::fabs(-dx * t.s + dy * t.c);
            const float d = std::max(a, b) + 0.08F * (a + b);
            if (d < w.first[p]) {
              w.second[p] = w.first[p];
              w.first[p] = d;
              w.owner[p] = k;
            } else {
              w.second[p] = std::min(w.second[p], d);
            }
          }
        }
      }
    }
  }
}

void relaxToCentres(Work& w) {
  std::vector<double> sx(w.tesserae.size()), sy(w.tesserae.size()), n(w.tesserae.size());
  for (int y = 0; y < kSize; ++y) {
    for (int x = 0; x < kSize; ++x) {
      const int k = w.owner[at(x, y)];
      if (k < 0) continue;
      sx[static_cast<std::size_t>(k)] += x;
      sy[static_cast<std::size_t>(k)] += y;
      n[static_cast<std::size_t>(k)] += 1;
    }
  }
  std::vector<Tessera> kept;
  for (std::size_t i = 0; i < w.tesserae.size(); ++i) {
    if (n[i] < 30) continue;
    Tessera t = w.tesserae[i];
    t.x = static_cast<float>(sx[i] / n[i]);
    t.y = static_cast<float>(sy[i] / n[i]);
    orient(w, t);
    kept.push_back(t);
  }
  w.tesserae = std::move(kept);
}

Work layOut() {
  Work w;
  w.region.resize(static_cast<std::size_t>(kSize) * kSize);
  for (int y = 0; y < kSize; ++y)
    for (int x = 0; x < kSize; ++x) {
      const float fx = static_cast<float>(x);
      const float fy = static_cast<float>(y);
      w.region[at(x, y)] = regionAt(fx + 5 * (noise(fx / 40, fy / 40, 81) - 0.5F),
                                    fy + 5 * (noise(fx / 40, fy / 40, 82) - 0.5F));
    }
  w.depth = distanceToContour(w.region, kSize, kSize);
  std::uint32_t id = 0;
  for (float y = kTile / 2; y < kSize; y += kTile * 0.94F) {
    for (float x = kTile / 2; x < kSize; x += kTile * 0.94F) {
      ++id;
      Tessera t{std::clamp(x + 8 * (chance(id, 1) - 0.5F), 0.0F, kSize - 1.0F),
                std::clamp(y + 8 * (chance(id, 2) - 0.5F), 0.0F, kSize - 1.0F), 1, 0, 0};
      t.region = w.region[at(static_cast<int>(t.x), static_cast<int>(t.y))];
      orient(w, t);
      w.tesserae.push_back(t);
    }
  }
  for (int i = 0; i < 16; ++i) {
    assign(w);
    relaxToCentres(w);
  }
  assign(w);
  return w;
}

}  // namespace

jugendstil::Image layMosaic() {
  const Work w = layOut();
  jugendstil::Image out(kSize, kSize, 3);
  for (int y = 0; y < kSize; ++y) {
    for (int x = 0; x < kSize; ++x) {
      const std::size_t p = at(x, y);
      const float fx = static_cast<float>(x);
      const float fy = static_cast<float>(y);
      const float rough = noise(fx / 3.1F, fy / 3.1F, 83) - 0.5F;
      const int k = w.owner[p];
      float inside = -1;
      if (k >= 0)
        inside =
            std::min((w.second[p] - w.first[p]) * 0.5F, std::min(w.depth[p], kTile * 0.66F - w.first[p])) +
            0.9F * rough;
      const float gap = 1.25F;
      const Colour grout = Colour{0.50F, 0.46F, 0.40F} * (0.62F + 0.30F * noise(fx / 1.7F, fy / 1.7F, 84) +
                                                          0.20F * fractal(fx / 60, fy / 60, 85));
      Colour c = grout * (inside > gap - 1.6F ? 0.62F : 0.9F);
      if (inside > gap) {
        const Tessera& t = w.tesserae[static_cast<std::size_t>(k)];
        const auto id = static_cast<std::uint32_t>(k) * 7U + 3U;
        c = glass(t.region, chance(id, 1), chance(id, 2)) * (0.84F + 0.30F * chance(id, 3));
        c = c * (0.93F + 0.15F * fractal(fx / 9 + chance(id, 4) * 90, fy / 9, 86, 3));
        const float dx = fx - t.x;
        const float dy = fy - t.y;
        // Each tessera sits at its own tilt; a rounded edge catches or loses the light.
        const float tiltX = 0.5F * (chance(id, 5) - 0.5F);
        const float tiltY = 0.5F * (chance(id, 6) - 0.5F);
        const float edge = smooth(gap + 2.6F, gap, inside);
        const float r = std::hypot(dx, dy) + 0.5F;
        const float facing = -(0.55F * (dx / r * edge + tiltX) + 0.75F * (dy / r * edge + tiltY));
        c = c * (1 + 0.42F * facing);
        const bool gold = t.region == kSun || t.region == kHeart || t.region == kBorderGold;
        const float glint = std::pow(
            std::max(0.0F,
                     1 - std::hypot(dx / kTile + 0.25F + tiltX * 2, dy / kTile + 0.3F + tiltY * 2) * 2.2F),
            2.0F);
        const float shine = glint * (gold ? 0.42F : 0.22F);
        c = c + Colour{shine, shine * 0.96F, shine * 0.86F};
      }
      out.at(x, y, 0) = std::clamp(c.r, 0.0F, 1.0F);
      out.at(x, y, 1) = std::clamp(c.g, 0.0F, 1.0F);
      out.at(x, y, 2) = std::clamp(c.b, 0.0F, 1.0F);
    }
  }
  return out;
}

}  // namespace demo
