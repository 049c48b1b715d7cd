#include "report/plot.h"

namespace jugendstil {

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

void grid(Image& page, const Box& box, int columns, int rows) {
  fill(page, box, kPlot);
  for (int i = 1; i < columns; ++i)
    fill(page, {box.x + box.width * i / columns, box.y, 1, box.height}, kGrid);
  for (int i = 1; i < rows; ++i) fill(page, {box.x, box.y + box.height * i / rows, box.width, 1}, kGrid);
}

void polyline(Image& page, const std::vector<Place>& places, const Rgb& colour, double reach) {
  for (std::size_t i = 0; i + 1 < places.size(); ++i) {
    const Place& a = places[i];
    const Place& b = places[i + 1];
    if (!std::isfinite(a.y) || !std::isfinite(b.y)) continue;
    const double slope = (b.y - a.y) / std::max(1e-9, b.x - a.x);
    const double across = reach * std::sqrt(1 + slope * slope);
    for (int x = static_cast<int>(a.x); x < static_cast<int>(std::ceil(b.x)); ++x) {
      const double y = a.y + slope * std::clamp(x + 0.5 - a.x, 0.0, b.x - a.x);
      for (int v = static_cast<int>(y - across - 1); v <= static_cast<int>(y + across + 1); ++v) {
        mixPixel(page, x, v, colour,
                 static_cast<float>(std::clamp(across - std::fabs(v + 0.5 - y) + 0.5, 0.0, 1.0)));
      }
    }
  }
}

}  // namespace jugendstil
