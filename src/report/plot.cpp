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

void grid(Image& page, const Box& box, int parts) {
  fill(page, box, kPlot);
  for (int i = 1; i < parts; ++i) {
    fill(page, {box.x + box.width * i / parts, box.y, 1, box.height}, kGrid);
    fill(page, {box.x, box.y + box.height * i / parts, box.width, 1}, kGrid);
  }
}

}  // namespace jugendstil
