// SPDX-License-Identifier: Apache-2.0
// Lines, areas and words by Cairo and Pango, inked into a report's page.
#pragma once

#include <cairo.h>

#include <memory>
#include <string>

#include "image/image.h"
#include "report/page.h"

namespace jugendstil {

// A part of a page that is drawn on, in the page's coordinates. Smoothed by grey levels without hinting, so
// that it looks the same whatever is set on a machine.
class Drawing {
 public:
  // What lies outside the page is cut off.
  Drawing(const Image& page, const Box& box);

  cairo_t* context() const { return context_.get(); }

  // Lays a colour on the page where something was drawn.
  void ink(Image& page, const Rgb& colour, float strength = 1) const;

 private:
  struct Destroy {
    void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
    void operator()(cairo_t* context) const { cairo_destroy(context); }
  };
  Box box_;
  std::unique_ptr<cairo_surface_t, Destroy> surface_;
  std::unique_ptr<cairo_t, Destroy> context_;
};

// Draws one line of words with its base line's left end at (x, y), `size` pixels high. Bytes that are not
// UTF-8 show as such. Throws Error where no font is installed.
void drawWords(const Drawing& drawing, double x, double y, const std::string& words, int size);

// How wide the words are then, pixels. Throws as drawWords() does.
int widthOfWords(const std::string& words, int size);

}  // namespace jugendstil
