// SPDX-License-Identifier: Apache-2.0
#include "report/drawing.h"

#include <pango/pangocairo.h>

#include <algorithm>

#include "base/error.h"

namespace jugendstil {
namespace {

// The first that is installed draws, others help out with the scripts that it has not.
constexpr const char* kFamilies = "DejaVu Sans, sans-serif";

struct Unreference {
  void operator()(void* object) const { g_object_unref(object); }
};
struct FreeDescription {
  void operator()(PangoFontDescription* d) const { pango_font_description_free(d); }
};
struct FreeOptions {
  void operator()(cairo_font_options_t* o) const { cairo_font_options_destroy(o); }
};
using Layout = std::unique_ptr<PangoLayout, Unreference>;

void requireFont() {
  PangoFontFamily** families = nullptr;
  int count = 0;
  pango_font_map_list_families(pango_cairo_font_map_get_default(), &families, &count);
  g_free(families);
  if (count == 0)
    throw Error(
        "cannot write captions: no font is installed; install one, like the package fonts-dejavu-core");
}

Layout layoutOf(const std::string& words, int size) {
  requireFont();
  const std::unique_ptr<PangoContext, Unreference> context(
      pango_font_map_create_context(pango_cairo_font_map_get_default()));
  const std::unique_ptr<cairo_font_options_t, FreeOptions> options(cairo_font_options_create());
  cairo_font_options_set_antialias(options.get(), CAIRO_ANTIALIAS_GRAY);
  cairo_font_options_set_hint_style(options.get(), CAIRO_HINT_STYLE_NONE);
  cairo_font_options_set_hint_metrics(options.get(), CAIRO_HINT_METRICS_OFF);
  pango_cairo_context_set_font_options(context.get(), options.get());
  Layout layout(pango_layout_new(context.get()));
  const std::unique_ptr<PangoFontDescription, FreeDescription> font(
      pango_font_description_from_string(kFamilies));
  pango_font_description_set_absolute_size(font.get(), 1.0 * size * PANGO_SCALE);
  pango_layout_set_font_description(layout.get(), font.get());
  pango_layout_set_single_paragraph_mode(layout.get(), TRUE);
  char* valid = g_utf8_make_valid(words.data(), static_cast<gssize>(words.size()));
  pango_layout_set_text(layout.get(), valid, -1);
  g_free(valid);
  return layout;
}

}  // namespace

Drawing::Drawing(const Image& page, const Box& box) {
  const int left = std::max(0, box.x);
  const int top = std::max(0, box.y);
  box_ = {left, top, std::max(0, std::min(page.width, box.x + box.width) - left),
          std::max(0, std::min(page.height, box.y + box.height) - top)};
  surface_.reset(cairo_image_surface_create(CAIRO_FORMAT_A8, box_.width, box_.height));
  context_.reset(cairo_create(surface_.get()));
  cairo_translate(context_.get(), -box_.x, -box_.y);
  cairo_set_antialias(context_.get(), CAIRO_ANTIALIAS_GRAY);
}

void Drawing::ink(Image& page, const Rgb& colour, float strength) const {
  cairo_surface_flush(surface_.get());
  const unsigned char* drawn = cairo_image_surface_get_data(surface_.get());
  const int stride = cairo_image_surface_get_stride(surface_.get());
  for (int y = 0; drawn != nullptr && y < box_.height; ++y, drawn += stride) {
    float* pixel = &page.pixels[page.index(box_.x, box_.y + y, 0)];
    for (int x = 0; x < box_.width; ++x, pixel += 3) {
      const float part = strength * static_cast<float>(drawn[x]) / 255;
      for (std::size_t c = 0; c < 3; ++c) pixel[c] += (colour[c] - pixel[c]) * part;
    }
  }
}

void drawWords(const Drawing& drawing, double x, double y, const std::string& words, int size) {
  const Layout layout = layoutOf(words, size);
  cairo_move_to(drawing.context(), x,
                y - static_cast<double>(pango_layout_get_baseline(layout.get())) / PANGO_SCALE);
  pango_cairo_show_layout(drawing.context(), layout.get());
}

int widthOfWords(const std::string& words, int size) {
  if (words.empty()) return 0;
  int width = 0;
  int height = 0;
  pango_layout_get_pixel_size(layoutOf(words, size).get(), &width, &height);
  return width;
}

}  // namespace jugendstil
