// SPDX-License-Identifier: Apache-2.0
// Masks from SVG drawings.
#include <cairo.h>
#include <fmt/format.h>
#include <librsvg/rsvg.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <memory>
#include <string>

#include "base/error.h"
#include "base/number.h"
#include "base/words.h"
#include "helper/helper.h"
#include "helper/packing.h"
#include "image/mask.h"

namespace jugendstil {
namespace {

// A drawing's page may differ from the picture's format by so much.
constexpr double kFormat = 0.02;
// The photo is often placed on the page to trace over; as a picture it would cover all of it.
constexpr std::string_view kWithoutPictures = "image { display: none !important; }";

// A drawing that takes longer than this draws something endless.
constexpr double kSeconds = 5;
constexpr double kPixelsPerSecond = 2e6;

struct ReleaseHandle {
  void operator()(RsvgHandle* handle) const { g_object_unref(handle); }
};
struct ReleaseSurface {
  void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
};
struct ReleaseContext {
  void operator()(cairo_t* context) const { cairo_destroy(context); }
};

std::unique_ptr<RsvgHandle, ReleaseHandle> parsed(std::string_view svg) {
  GError* failure = nullptr;
  std::unique_ptr<RsvgHandle, ReleaseHandle> handle(
      rsvg_handle_new_from_data(reinterpret_cast<const guint8*>(svg.data()), svg.size(), &failure));
  const auto* css = reinterpret_cast<const guint8*>(kWithoutPictures.data());
  if (handle && rsvg_handle_set_stylesheet(handle.get(), css, kWithoutPictures.size(), &failure))
    return handle;
  const std::string where = failure != nullptr ? placeToldIn(failure->message) : "";
  g_clear_error(&failure);
  throw Error(fmt::format("is not a readable SVG drawing{}; open it in a drawing program and save it anew",
                          where.empty() ? "" : " (broken at " + where.substr(2) + ")"));
}

void requireFormat(RsvgHandle* handle, int width, int height) {
  double w = 0;
  double h = 0;
  if (!rsvg_handle_get_intrinsic_size_in_pixels(handle, &w, &h)) {
    gboolean hasWidth = 0;
    gboolean hasHeight = 0;
    gboolean hasBox = 0;
    RsvgLength l1;
    RsvgLength l2;
    RsvgRectangle box{};
    rsvg_handle_get_intrinsic_dimensions(handle, &hasWidth, &l1, &hasHeight, &l2, &hasBox, &box);
    if (hasBox == 0) return;  // without a page, in the picture's own pixels
    w = box.width;
    h = box.height;
  }
  const double own = 1.0 * width / height;
  if (!(w > 0 && h > 0) || std::fabs(w / h / own - 1) > kFormat) {
    throw Error(fmt::format(
        "has a page of {:g}x{:g}, which is not the format of the picture, {}x{}; draw on a page of that size",
        w, h, width, height));
  }
}

// The work of the helper: how much of each pixel the drawing covers, in bytes.
void drawMask(Asker& asker) {
  const std::string question = asker.next();
  Unpacker asked(question);
  const std::string svg = asked.text();
  const auto width = asked.value<int>();
  const auto height = asked.value<int>();
  const auto handle = parsed(svg);
  requireFormat(handle.get(), width, height);
  const std::unique_ptr<cairo_surface_t, ReleaseSurface> surface(
      cairo_image_surface_create(CAIRO_FORMAT_A8, width, height));
  const std::unique_ptr<cairo_t, ReleaseContext> context(cairo_create(surface.get()));
  const RsvgRectangle page{0, 0, static_cast<double>(width), static_cast<double>(height)};
  GError* failure = nullptr;
  if (!rsvg_handle_render_document(handle.get(), context.get(), &page, &failure)) {
    g_clear_error(&failure);
    throw Error("cannot be drawn; it may be nested too deeply: simplify it in a drawing program");
  }
  cairo_surface_flush(surface.get());
  const unsigned char* data = cairo_image_surface_get_data(surface.get());
  if (cairo_surface_status(surface.get()) != CAIRO_STATUS_SUCCESS || data == nullptr)
    throw Error(fmt::format("cannot be drawn at {}x{} pixels", width, height));
  const int stride = cairo_image_surface_get_stride(surface.get());
  std::string covered;
  for (int y = 0; y < height; ++y)
    covered.append(reinterpret_cast<const char*>(data + cellAt(0, y, stride)), width);
  asker.answer(covered);
}

}  // namespace

Image maskOfDrawing(std::string_view svg, int width, int height) {
  Packer question;
  question.text(svg);
  question.value(width);
  question.value(height);
  const double seconds = kSeconds + static_cast<double>(cellCount(width, height)) / kPixelsPerSecond;
  const std::string covered = answerOfHelper(drawMask, "", question.bytes(), seconds);
  Image mask(width, height, 1);
  if (covered.size() != mask.area()) throw Error("cannot be drawn");
  std::transform(covered.begin(), covered.end(), mask.pixels.begin(),
                 [](char c) { return static_cast<float>(static_cast<unsigned char>(c)) / 255.0F; });
  if (coverage(mask) <= 0)
    throw Error("draws nothing on its page (strokes and fills count, pictures that are placed there do not)");
  return mask;
}

}  // namespace jugendstil
