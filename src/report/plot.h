// Graphs on a report's page.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "image/image.h"

namespace jugendstil {

using Rgb = std::array<float, 3>;

inline constexpr Rgb kPlot{0.975F, 0.97F, 0.96F};
inline constexpr Rgb kGrid{0.83F, 0.825F, 0.81F};

struct Box {
  int x = 0;
  int y = 0;
  int width = 0;
  int height = 0;
};

// Mixes a colour into one pixel of the page; outside it does nothing.
void mixPixel(Image& page, int x, int y, const Rgb& colour, float part);

void fill(Image& page, const Box& box, const Rgb& colour);

// An empty plot, divided into so many columns and rows.
void grid(Image& page, const Box& box, int columns, int rows);

// Smooth line from one place of the page to the next, `reach` pixels to each side; what is not a number
// leaves a gap.
struct Place {
  double x = 0;
  double y = 0;
};
void polyline(Image& page, const std::vector<Place>& places, const Rgb& colour, double reach);

// A graph of values in [0, 1] over the box's columns: as an area where filled, as a line of that thickness
// else.
template <typename Value>
void graph(Image& page, const Box& box, const Rgb& colour, float strength, bool filled, const Value& value) {
  const auto top = [&](int x) {
    const float u = (static_cast<float>(x) + 0.5F) / static_cast<float>(box.width);
    return static_cast<float>(box.height) * (1 - std::clamp(value(u), 0.0F, 1.0F));
  };
  for (int x = 0; x < box.width; ++x) {
    const float here = top(x);
    // A steep line is thick enough to stay joined.
    const float reach = 1.2F + std::fabs(top(std::min(x + 1, box.width - 1)) - here) / 2;
    for (int y = 0; y < box.height; ++y) {
      const float at = static_cast<float>(y) + 0.5F;
      const float part = filled ? at - here + 0.5F : reach - std::fabs(at - here) + 0.5F;
      if (part > 0) mixPixel(page, box.x + x, box.y + y, colour, strength * std::min(part, 1.0F));
    }
  }
}

}  // namespace jugendstil
