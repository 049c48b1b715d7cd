#include "report/sheet.h"

#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "image/error.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

constexpr int kGap = 24;
constexpr int kTitleSize = 26;
constexpr int kCaptionSize = 17;
constexpr int kNoteSize = 14;
constexpr std::array<float, 3> kPaper{0.93F, 0.925F, 0.91F};
constexpr std::array<float, 3> kInk{0.13F, 0.13F, 0.14F};
constexpr std::array<float, 3> kQuietInk{0.40F, 0.40F, 0.40F};

const char* const kFonts[] = {"/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf", "DejaVuSans",
                              "LiberationSans-Regular"};

void text(OIIO::ImageBuf& sheet, int x, int y, const std::string& words, int size,
          const std::array<float, 3>& colour) {
  if (words.empty()) return;
  for (const char* font : kFonts) {
    if (OIIO::ImageBufAlgo::render_text(sheet, x, y, words, size, font, OIIO::cspan<float>(colour.data(), 3)))
      return;
    sheet.geterror();
  }
  throw Error("cannot write captions: no font found; install the package fonts-dejavu-core");
}

Image fitted(const Image& picture, int width, int height) {
  const double scale = std::min(
      {1.0, static_cast<double>(width) / picture.width, static_cast<double>(height) / picture.height});
  return resizePhoto(rgbOf(picture), std::max(1, static_cast<int>(picture.width * scale + 0.5)),
                     std::max(1, static_cast<int>(picture.height * scale + 0.5)));
}

}  // namespace

Image contactSheet(const std::vector<SheetCell>& cells, const SheetOptions& options) {
  const int columns = std::max(1, options.columns);
  const int rows = (static_cast<int>(cells.size()) + columns - 1) / columns;
  const int caption = kCaptionSize + kNoteSize + 20;
  const int top = options.title.empty() ? kGap : kGap * 2 + kTitleSize;
  Image sheet(kGap + columns * (options.cellWidth + kGap),
              top + rows * (options.cellHeight + caption + kGap));
  for (std::size_t i = 0; i < sheet.pixels.size(); ++i) sheet.pixels[i] = kPaper[i % 3];
  OIIO::ImageBuf buffer(OIIO::ImageSpec(sheet.width, sheet.height, 3, OIIO::TypeDesc::FLOAT),
                        sheet.pixels.data());
  text(buffer, kGap, kGap + kTitleSize, options.title, kTitleSize, kInk);
  for (std::size_t i = 0; i < cells.size(); ++i) {
    const SheetCell& cell = cells[i];
    const int x = kGap + static_cast<int>(i) % columns * (options.cellWidth + kGap);
    const int y = top + static_cast<int>(i) / columns * (options.cellHeight + caption + kGap);
    if (!cell.picture.empty()) {
      const Image small = fitted(cell.picture, options.cellWidth, options.cellHeight);
      const int ox = x + (options.cellWidth - small.width) / 2;
      const int oy = y + (options.cellHeight - small.height) / 2;
      for (int v = 0; v < small.height; ++v) {
        for (int u = 0; u < small.width * 3; ++u) {
          sheet.pixels[sheet.index(ox, oy + v, 0) + static_cast<std::size_t>(u)] =
              small.pixels[small.index(0, v, 0) + static_cast<std::size_t>(u)];
        }
      }
    }
    text(buffer, x, y + options.cellHeight + kCaptionSize + 6, cell.caption, kCaptionSize, kInk);
    text(buffer, x, y + options.cellHeight + kCaptionSize + kNoteSize + 13, cell.note, kNoteSize, kQuietInk);
  }
  return sheet;
}

}  // namespace jugendstil
