// SPDX-License-Identifier: Apache-2.0
#include "grade/colour_table.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/number.h"
#include "base/parallel.h"

namespace jugendstil {
namespace {

// Where a colour stands: the cell's first node, and the way through the tetrahedron that holds it, largest
// fraction first.
struct Tetrahedron {
  std::size_t node = 0;
  std::array<float, 3> fraction{};
  std::array<std::size_t, 3> step{};
};

inline void order(Tetrahedron& p, std::size_t i, std::size_t j) {
  const bool swap = p.fraction[i] < p.fraction[j];
  const float high = swap ? p.fraction[j] : p.fraction[i];
  const float low = swap ? p.fraction[i] : p.fraction[j];
  const std::size_t first = swap ? p.step[j] : p.step[i];
  const std::size_t second = swap ? p.step[i] : p.step[j];
  p.fraction[i] = high;
  p.fraction[j] = low;
  p.step[i] = first;
  p.step[j] = second;
}

inline Tetrahedron tetrahedronOf(const float* clamped, int size) {
  const float scale = static_cast<float>(size - 1);
  const std::size_t n = size;
  Tetrahedron p;
  p.step = {1, n, n * n};
  for (std::size_t c = 0; c < 3; ++c) {
    const float at = clamped[c] * scale;
    const int cell = std::min(static_cast<int>(at), size - 2);
    p.fraction[c] = at - static_cast<float>(cell);
    p.node += cell * p.step[c];
  }
  order(p, 0, 1);
  order(p, 1, 2);
  order(p, 0, 1);
  return p;
}

}  // namespace

ColourTable tabulated(int size, const ColourFunction& function) {
  if (size < 2 || size > 129)
    throw Error(fmt::format("a colour table has 2 to 129 points a side, not {}", size));
  ColourTable table{size, {}};
  table.rgb.resize(table.nodes() * 3);
  const std::size_t n = size;
  const float scale = 1.0F / static_cast<float>(size - 1);
  parallelFor(size, [&](int blue) {
    std::size_t at = blue * n * n * 3;
    for (int green = 0; green < size; ++green) {
      for (int red = 0; red < size; ++red, at += 3) {
        const auto value = function({static_cast<float>(red) * scale, static_cast<float>(green) * scale,
                                     static_cast<float>(blue) * scale});
        std::copy(value.begin(), value.end(), &table.rgb[at]);
      }
    }
  });
  return table;
}

void limitSlopes(ColourTable& table, double most, double from) {
  constexpr int kRounds = 60;
  // One of each pair of opposite directions to the 26 neighbours.
  constexpr std::array<std::array<int, 3>, 13> kWays{{{1, 0, 0},
                                                      {0, 1, 0},
                                                      {0, 0, 1},
                                                      {1, 1, 0},
                                                      {1, -1, 0},
                                                      {1, 0, 1},
                                                      {1, 0, -1},
                                                      {0, 1, 1},
                                                      {0, 1, -1},
                                                      {1, 1, 1},
                                                      {1, 1, -1},
                                                      {1, -1, 1},
                                                      {1, -1, -1}}};
  const int n = table.size;
  const auto limit = static_cast<float>(most / (n - 1));
  const double dark = 3 * from * (n - 1);
  const auto at = [n](int r, int g, int b) { return cellAt(r, b * n + g, n) * 3; };
  const auto inside = [n](int i) { return i >= 0 && i < n; };
  const auto relax = [&](int r, int g, int b) {
    bool moved = false;
    for (const auto& way : kWays) {
      const std::array<int, 3> to{r + way[0], g + way[1], b + way[2]};
      if (!inside(to[0]) || !inside(to[1]) || !inside(to[2]) || to[0] + to[1] + to[2] < dark) continue;
      for (std::size_t c = 0; c < 3; ++c) {
        float& here = table.rgb[at(r, g, b) + c];
        float& there = table.rgb[at(to[0], to[1], to[2]) + c];
        const float over = std::fabs(there - here) - limit;
        if (over <= limit * 1e-3F) continue;
        const float share = std::copysign(over / 2, there - here);
        here += share;
        there -= share;
        moved = true;
      }
    }
    return moved;
  };
  for (int round = 0; round < kRounds; ++round) {
    bool moved = false;
    for (int b = 0; b < n; ++b) {
      for (int g = 0; g < n; ++g) {
        for (int r = 0; r < n; ++r) {
          if (r + g + b >= dark) moved = relax(r, g, b) || moved;
        }
      }
    }
    if (!moved) return;
  }
}

std::array<float, 3> interpolated(const ColourTable& table, const std::array<float, 3>& rgb) {
  std::array<float, 3> inside{};
  for (std::size_t c = 0; c < 3; ++c) inside[c] = std::clamp(rgb[c], 0.0F, 1.0F);
  const Tetrahedron p = tetrahedronOf(inside.data(), table.size);
  const std::size_t second = p.node + p.step[0];
  const std::size_t third = second + p.step[1];
  const std::size_t fourth = third + p.step[2];
  std::array<float, 3> out{};
  for (std::size_t c = 0; c < 3; ++c) {
    out[c] = table.rgb[p.node * 3 + c] * (1 - p.fraction[0]) +
             table.rgb[second * 3 + c] * (p.fraction[0] - p.fraction[1]) +
             table.rgb[third * 3 + c] * (p.fraction[1] - p.fraction[2]) +
             table.rgb[fourth * 3 + c] * p.fraction[2] + (rgb[c] - inside[c]);
  }
  return out;
}

namespace {

constexpr std::size_t kBlock = 256;

// A block of pixels, channel by channel.
struct Block {
  std::array<std::array<float, kBlock>, 3> in;
  std::array<std::array<float, kBlock>, 3> out;
};

// The same as interpolated(), without branches, so that sixteen pixels go at a time. Of equal fractions red
// counts as the largest and blue as the least.
JUGENDSTIL_VECTORISED void lookUp(Block& block, const float* red, const float* green, const float* blue,
                                  int size) {
  const float scale = static_cast<float>(size - 1);
  const int last = size - 2;
  const int row = size;
  const int plane = size * size;
#pragma omp simd
  for (std::size_t i = 0; i < kBlock; ++i) {
    const float r = std::min(std::max(block.in[0][i], 0.0F), 1.0F);
    const float g = std::min(std::max(block.in[1][i], 0.0F), 1.0F);
    const float b = std::min(std::max(block.in[2][i], 0.0F), 1.0F);
    const int x = std::min(static_cast<int>(r * scale), last);
    const int y = std::min(static_cast<int>(g * scale), last);
    const int z = std::min(static_cast<int>(b * scale), last);
    const float u = r * scale - static_cast<float>(x);
    const float v = g * scale - static_cast<float>(y);
    const float w = b * scale - static_cast<float>(z);
    const float high = std::max(std::max(u, v), w);
    const float low = std::min(std::min(u, v), w);
    const float middle = std::max(std::min(u, v), std::min(std::max(u, v), w));
    const int inner = v >= w ? row : plane;
    const int first = (u >= v) & (u >= w) ? 1 : inner;
    const int rest = v <= u ? row : 1;
    const int final = (w <= u) & (w <= v) ? plane : rest;
    const int n0 = x + y * row + z * plane;
    const int n1 = n0 + first;
    const int n3 = n0 + 1 + row + plane;
    const int n2 = n3 - final;
    const float w0 = 1 - high;
    const float w1 = high - middle;
    const float w2 = middle - low;
    block.out[0][i] = red[n0] * w0 + red[n1] * w1 + red[n2] * w2 + red[n3] * low + (block.in[0][i] - r);
    block.out[1][i] =
        green[n0] * w0 + green[n1] * w1 + green[n2] * w2 + green[n3] * low + (block.in[1][i] - g);
    block.out[2][i] = blue[n0] * w0 + blue[n1] * w1 + blue[n2] * w2 + blue[n3] * low + (block.in[2][i] - b);
  }
}

}  // namespace

TableApplier::TableApplier(const ColourTable& table) : size_(table.size) {
  for (std::size_t c = 0; c < 3; ++c) {
    nodes_[c].resize(table.nodes());
    for (std::size_t i = 0; i < table.nodes(); ++i) nodes_[c][i] = table.rgb[i * 3 + c];
  }
}

void TableApplier::apply(float* pixels, std::size_t count, int channels) const {
  const std::size_t stride = channels;
  Block block{};
  for (std::size_t done = 0; done < count; done += kBlock) {
    const std::size_t n = std::min(kBlock, count - done);
    float* begin = pixels + done * stride;
    for (std::size_t i = 0; i < n; ++i) {
      for (std::size_t c = 0; c < 3; ++c) block.in[c][i] = begin[i * stride + c];
    }
    lookUp(block, nodes_[0].data(), nodes_[1].data(), nodes_[2].data(), size_);
    for (std::size_t i = 0; i < n; ++i) {
      for (std::size_t c = 0; c < 3; ++c) begin[i * stride + c] = block.out[c][i];
    }
  }
}

}  // namespace jugendstil
