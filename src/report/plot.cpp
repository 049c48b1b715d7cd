// SPDX-License-Identifier: Apache-2.0
#include "report/plot.h"

#include <algorithm>
#include <cmath>

#include "base/number.h"
#include "report/drawing.h"

namespace jugendstil {
namespace {

constexpr double kGraphLine = 2.4;

Box wholeOf(const Image& page) { return {0, 0, page.width, page.height}; }

}  // namespace

void mixPixel(Image& page, int x, int y, const Rgb& colour, float part) {
  if (x < 0 || y < 0 || x >= page.width || y >= page.height) return;
  for (std::size_t c = 0; c < 3; ++c) {
    float& v = page.at(x, y, static_cast<int>(c));
    v += (colour[c] - v) * std::clamp(part, 0.0F, 1.0F);
  }
}

void fill(Image& page, const Box& box, const Rgb& colour) {
  for (int y = box.y; y < box.y + box.height; ++y) {
    for (int x = box.x; x < box.x + box.width; ++x) mixPixel(page, x, y, colour, 1);
  }
}

void grid(Image& page, const Box& box, const std::vector<double>& across, const std::vector<double>& down) {
  fill(page, box, kPlot);
  for (const double x : across) fill(page, {rounded(x), box.y, 1, box.height}, kGrid);
  for (const double y : down) fill(page, {box.x, rounded(y), box.width, 1}, kGrid);
}

void grid(Image& page, const Box& box, int columns, int rows) {
  std::vector<double> across;
  std::vector<double> down;
  for (int i = 1; i < columns; ++i) {
    const int x = box.width * i / columns;
    across.push_back(box.x + x);
  }
  for (int i = 1; i < rows; ++i) {
    const int y = box.height * i / rows;
    down.push_back(box.y + y);
  }
  grid(page, box, across, down);
}

void polyline(Image& page, const std::vector<PlotPoint>& points, const Rgb& colour, double reach) {
  const Drawing drawing(page, wholeOf(page));
  bool drawn = false;
  for (const PlotPoint& point : points) {
    const bool known = std::isfinite(point.y);
    if (known && drawn) cairo_line_to(drawing.context(), point.x, point.y);
    if (known && !drawn) cairo_move_to(drawing.context(), point.x, point.y);
    drawn = known;
  }
  cairo_set_line_join(drawing.context(), CAIRO_LINE_JOIN_ROUND);
  cairo_set_line_width(drawing.context(), 2 * reach);
  cairo_stroke(drawing.context());
  drawing.ink(page, colour);
}

void graph(Image& page, const Box& box, const Rgb& colour, float strength, bool filled,
           const std::function<float(float)>& value) {
  const Drawing drawing(page, box);
  cairo_t* context = drawing.context();
  const double foot = box.y + box.height;
  if (filled) cairo_move_to(context, box.x, foot);
  for (int i = 0; i <= box.width; ++i) {
    const float u = static_cast<float>(i) / static_cast<float>(box.width);
    const double height = std::clamp(value(u), 0.0F, 1.0F);
    cairo_line_to(context, box.x + i, foot - box.height * height);
  }
  if (filled) {
    cairo_line_to(context, box.x + box.width, foot);
    cairo_fill(context);
  } else {
    cairo_set_line_join(context, CAIRO_LINE_JOIN_ROUND);
    cairo_set_line_width(context, kGraphLine);
    cairo_stroke(context);
  }
  drawing.ink(page, colour, strength);
}

}  // namespace jugendstil
