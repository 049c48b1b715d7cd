// SPDX-License-Identifier: Apache-2.0
// Graphs on a report's page.
#pragma once

#include <functional>
#include <vector>

#include "image/image.h"
#include "report/page.h"

namespace jugendstil {

inline constexpr Rgb kPlot{0.975F, 0.97F, 0.96F};
inline constexpr Rgb kGrid{0.83F, 0.825F, 0.81F};

// Mixes a colour into one pixel of the page; outside it does nothing.
void mixPixel(Image& page, int x, int y, const Rgb& colour, float part);

void fill(Image& page, const Box& box, const Rgb& colour);

// An empty plot, divided by lines at these places of the page.
void grid(Image& page, const Box& box, const std::vector<double>& across, const std::vector<double>& down);

// The same divided into so many even columns and rows.
void grid(Image& page, const Box& box, int columns, int rows);

// Smooth line from one point of the page to the next, `reach` pixels to each side; what is not a number
// leaves a gap.
struct PlotPoint {
  double x = 0;
  double y = 0;
};
void polyline(Image& page, const std::vector<PlotPoint>& points, const Rgb& colour, double reach);

// A graph of values in [0, 1] over the box's columns: as an area where filled, as a line else. The strength
// is the colour's, 0 to 1.
void graph(Image& page, const Box& box, const Rgb& colour, float strength, bool filled,
           const std::function<float(float)>& value);

}  // namespace jugendstil
