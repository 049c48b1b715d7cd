// SPDX-License-Identifier: Apache-2.0
// "Moon over the garden": a linocut in two inks, every light cut with a gouge.
#include <algorithm>
#include <cmath>
#include <vector>

#include "noise.h"
#include "pictures.h"

namespace demo {
namespace {

constexpr int kWidth = 900;
constexpr int kHeight = 1080;
constexpr Point kMoon{610, 300};
constexpr Colour kPaper{0.94F, 0.90F, 0.81F};
constexpr Colour kWarmInk{0.86F, 0.42F, 0.20F};
constexpr Colour kKeyInk{0.09F, 0.13F, 0.22F};

enum Part : int { kSky, kMoonDisc, kFarHill, kNearHill, kTree, kWater, kReed };

float farHill(float x) { return 560 - 60 * std::sin(x / 210 + 0.6F) - 24 * noise(x / 70, 1, 91); }
float nearHill(float x) { return 672 - 46 * std::sin(x / 160 + 2.2F) - 16 * noise(x / 44, 2, 92); }

// Pines as stacked, drooping boughs.
bool pine(Point p, Point foot, float height, float spread) {
  const float v = (foot.y - p.y) / height;
  if (v < 0 || v > 1) return false;
  if (v < 0.10F) return std::fabs(p.x - foot.x) < spread * 0.07F;
  const float tier = std::fmod(v * 6.5F, 1.0F);
  const float reach =
      spread * (1.04F - v) * (1.0F - 0.62F * tier) * (0.86F + 0.3F * noise(p.x / 17 + foot.x, p.y / 11, 93));
  return std::fabs(p.x - foot.x - 6 * std::sin(v * 9)) < reach;
}

bool reed(Point p) {
  for (int i = 0; i < 26; ++i) {
    const auto id = static_cast<std::uint32_t>(i + 1);
    const float base = -20 + 300 * chance(id, 11) + (i % 3 == 0 ? 600.0F : 0.0F);
    const float height = 190 + 250 * chance(id, 12);
    const float v = (kHeight - p.y) / height;
    if (v < 0 || v > 1) continue;
    const float bend = (chance(id, 13) - 0.4F) * 170 * v * v;
    const float w = 8.5F * (1 - v) + 0.8F;
    if (std::fabs(p.x - base - bend) < w) return true;
    if (chance(id, 14) > 0.62F && v > 0.80F && v < 0.96F && std::fabs(p.x - base - bend) < 9) return true;
  }
  return false;
}

int partAt(Point p) {
  if (reed(p)) return kReed;
  if (pine(p, {150, 720}, 560, 150) || pine(p, {300, 700}, 360, 104) || pine(p, {800, 730}, 450, 126) ||
      pine(p, {46, 730}, 400, 110))
    return kTree;
  if (p.y > nearHill(p.x) + 62) return kWater;
  if (p.y > nearHill(p.x)) return kNearHill;
  if (p.y > farHill(p.x)) return kFarHill;
  return std::hypot(p.x - kMoon.x, p.y - kMoon.y) < 112 ? kMoonDisc : kSky;
}

// How much of the key block is cut away.
float lightAt(int part, Point p) {
  const float moon = std::hypot(p.x - kMoon.x, p.y - kMoon.y);
  switch (part) {
    case kMoonDisc:
      return 1.0F;
    case kSky:
      return std::clamp(0.80F - moon / 900 + 0.3F * (fractal(p.x / 200, p.y / 70, 94, 3) - 0.5F), 0.18F,
                        0.86F);
    case kFarHill:
      return 0.50F;
    case kNearHill:
      return 0.36F;
    case kTree:
      return 0.27F;
    case kReed:
      return 0.14F;
    default:
      return std::clamp(0.42F + 0.5F * std::exp(-std::fabs(p.x - kMoon.x) / 90) - (p.y - 740) / 1300, 0.14F,
                        0.92F);
  }
}

float grain(int part, Point p) {
  switch (part) {
    case kSky:
      return std::atan2(p.x - kMoon.x, -(p.y - kMoon.y)) + 0.5F * (noise(p.x / 130, p.y / 90, 95) - 0.5F);
    case kFarHill:
      return 0.95F + 0.3F * std::sin(p.x / 90);
    case kNearHill:
      return -0.55F + 0.5F * std::sin(p.x / 60);
    case kTree:
      return 0.9F * (p.x > 450 ? -1.0F : 1.0F) * (std::sin(p.y / 30) > 0 ? 1.0F : 0.55F);
    case kReed:
      return 1.5F;
    default:
      return 0.10F * std::sin(p.x / 40 + p.y / 9) + 0.16F * (noise(p.x / 50, p.y / 16, 96) - 0.5F);
  }
}

struct Block {
  std::vector<float> cut;  // 1 where the lino is gone
  Block() : cut(static_cast<std::size_t>(kWidth) * kHeight, 0.0F) {}
  float& at(int x, int y) { return cut[static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x)]; }
};

// One push of a gouge: thin where it enters, broad in the middle, torn where it is lifted out.
void gouge(Block& block, const std::vector<int>& parts, Point p, int part, float breadth, float length,
           std::uint32_t id) {
  float heading = grain(part, p);
  for (float done = 0; done < length; done += 0.5F) {
    const float v = done / length;
    const float turn = std::remainder(grain(part, p) - heading, 3.14159265F);
    heading += turn * 0.05F + 0.010F * (chance(id, 31) - 0.5F);
    const float w = breadth * std::sqrt(std::max(0.0F, std::sin(3.14159265F * std::pow(v, 0.8F)))) *
                    (0.8F + 0.4F * noise(done / 7, 0, id));
    for (float u = -w; u <= w; u += 0.5F) {
      const int x = static_cast<int>(std::lround(p.x - std::sin(heading) * u));
      const int y = static_cast<int>(std::lround(p.y + std::cos(heading) * u));
      if (x < 0 || y < 0 || x >= kWidth || y >= kHeight) continue;
      if (parts[static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x)] != part) continue;
      block.at(x, y) = std::max(block.at(x, y), smooth(w + 0.2F, w - 0.7F, std::fabs(u)));
    }
    p.x += std::cos(heading) * 0.5F;
    p.y += std::sin(heading) * 0.5F;
  }
}

// A dark contour is left standing round every part.
std::vector<float> contourDepth(const std::vector<int>& parts) {
  std::vector<float> depth(parts.size(), 99.0F);
  for (int y = 0; y < kHeight; ++y) {
    for (int x = 0; x < kWidth; ++x) {
      const std::size_t p = static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x);
      for (int r = 1; r <= 5 && depth[p] > 90; ++r) {
        for (int a = 0; a < 8 && depth[p] > 90; ++a) {
          const int sx =
              std::clamp(x + static_cast<int>(std::lround(static_cast<float>(r) *
                                                          std::cos(static_cast<float>(a) * 0.7854F))),
                         0, kWidth - 1);
          const int sy =
              std::clamp(y + static_cast<int>(std::lround(static_cast<float>(r) *
                                                          std::sin(static_cast<float>(a) * 0.7854F))),
                         0, kHeight - 1);
          if (parts[static_cast<std::size_t>(sy) * kWidth + static_cast<std::size_t>(sx)] != parts[p])
            depth[p] = static_cast<float>(r);
        }
      }
    }
  }
  return depth;
}

Block cutBlock(const std::vector<int>& parts) {
  Block block;
  std::vector<float> ink(static_cast<std::size_t>(kWidth / 10 + 1) * (kHeight / 10 + 1), 0.0F);
  std::uint32_t id = 0;
  // Pushes are laid until each neighbourhood is as light as it should be.
  for (int pass = 0; pass < 9; ++pass) {
    for (int j = 0; j < kHeight / 7; ++j) {
      for (int i = 0; i < kWidth / 7; ++i) {
        ++id;
        const Point p{static_cast<float>(i) * 7 + 7 * chance(id, 21),
                      static_cast<float>(j) * 7 + 7 * chance(id, 22)};
        const int x = std::min(kWidth - 1, static_cast<int>(p.x));
        const int y = std::min(kHeight - 1, static_cast<int>(p.y));
        const int part = parts[static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x)];
        const float wanted = lightAt(part, p);
        float sum = 0;
        int n = 0;
        for (int v = -9; v <= 9; v += 3) {
          for (int u = -9; u <= 9; u += 3) {
            if (x + u < 0 || y + v < 0 || x + u >= kWidth || y + v >= kHeight) continue;
            sum += block.at(x + u, y + v);
            ++n;
          }
        }
        const float have = sum / static_cast<float>(std::max(1, n));
        if (have + 0.22F > wanted || block.at(x, y) > 0.3F || chance(id, 23) > 0.45F) continue;
        const float breadth = (1.1F + 2.0F * wanted) * (0.8F + 0.5F * chance(id, 24));
        gouge(block, parts, p, part, breadth, (24 + 46 * chance(id, 25)) * (part == kTree ? 0.6F : 1.0F), id);
      }
    }
  }
  return block;
}

}  // namespace

jugendstil::Image cutLino() {
  std::vector<int> parts(static_cast<std::size_t>(kWidth) * kHeight);
  for (int y = 0; y < kHeight; ++y)
    for (int x = 0; x < kWidth; ++x) {
      const float fx = static_cast<float>(x);
      const float fy = static_cast<float>(y);
      parts[static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x)] = partAt(
          {fx + 4 * (noise(fx / 13, fy / 13, 97) - 0.5F), fy + 4 * (noise(fx / 13, fy / 13, 98) - 0.5F)});
    }
  Block key = cutBlock(parts);
  const std::vector<float> contour = contourDepth(parts);
  jugendstil::Image out(kWidth, kHeight, 3);
  for (int y = 0; y < kHeight; ++y) {
    for (int x = 0; x < kWidth; ++x) {
      const std::size_t p = static_cast<std::size_t>(y) * kWidth + static_cast<std::size_t>(x);
      const float fx = static_cast<float>(x);
      const float fy = static_cast<float>(y);
      const float fibre = fractal(fx / 2.2F, fy / 2.2F, 99, 3);
      Colour c = kPaper * (0.955F + 0.06F * fibre + 0.02F * fractal(fx / 90, fy / 90, 100));
      // The warm block lies a little off register and keeps the moon and its lane free.
      const int qx = std::clamp(x - 3, 0, kWidth - 1);
      const int qy = std::clamp(y + 2, 0, kHeight - 1);
      const int under = parts[static_cast<std::size_t>(qy) * kWidth + static_cast<std::size_t>(qx)];
      const float lane = std::fabs(fx - kMoon.x) + 30 * (noise(fx / 26, fy / 7, 101) - 0.5F);
      const bool bare = under == kMoonDisc || (under == kWater && lane < 58) ||
                        (under == kSky && fractal(fx / 170, fy / 40, 102, 4) > 0.60F);
      const float thin = smooth(0.26F, 0.13F, fractal(fx / 2.7F, fy / 2.7F, 103, 2));
      if (!bare) c = mix(c, kWarmInk * (0.93F + 0.16F * fractal(fx / 34, fy / 34, 104)), 0.93F - 0.6F * thin);
      const float standing = contour[p] < 2.5F + 2.2F * noise(fx / 19, fy / 19, 105) && parts[p] != kMoonDisc
                                 ? 1.0F
                                 : 1.0F - key.at(x, y);
      const float cleared = parts[p] == kMoonDisc ? (contour[p] < 4 ? 0.0F : 1.0F) : 1 - standing;
      const float ink = 1 - cleared;
      // Ink is rolled on unevenly and lifts off in specks.
      const float speck = smooth(0.22F, 0.13F, fractal(fx / 2.1F + 40, fy / 2.1F, 106, 2)) +
                          0.35F * smooth(0.34F, 0.22F, fractal(fx / 24, fy / 24, 107));
      c = mix(c, kKeyInk * (0.86F + 0.30F * fractal(fx / 46, fy / 46, 108)),
              ink * std::clamp(0.97F - 0.75F * speck, 0.0F, 1.0F));
      // Where a gouge missed the bottom of the cut, ridges still print.
      const float chatter =
          cleared > 0.5F && parts[p] != kMoonDisc && noise(fx / 2.3F, fy / 2.3F, 109) > 0.93F ? 0.7F : 0.0F;
      c = mix(c, kKeyInk, chatter);
      out.at(x, y, 0) = std::clamp(c.r, 0.0F, 1.0F);
      out.at(x, y, 1) = std::clamp(c.g, 0.0F, 1.0F);
      out.at(x, y, 2) = std::clamp(c.b, 0.0F, 1.0F);
    }
  }
  return out;
}

}  // namespace demo
