#include "report/sheet.h"

#include <algorithm>

#include "report/lettering.h"

namespace jugendstil {
namespace {

constexpr int kGap = 24;
constexpr int kTitleSize = 26;
constexpr int kCaptionSize = 17;
constexpr int kNoteSize = 14;

}  // namespace

Image contactSheet(const std::vector<SheetCell>& cells, const SheetOptions& options) {
  const int columns = std::max(1, options.columns);
  const int rows = (static_cast<int>(cells.size()) + columns - 1) / columns;
  const int caption = kCaptionSize + kNoteSize + 20;
  const int top = options.title.empty() ? kGap : kGap * 2 + kTitleSize;
  Image sheet = blankPage(kGap + columns * (options.cellWidth + kGap),
                          top + rows * (options.cellHeight + caption + kGap));
  writeText(sheet, kGap, kGap + kTitleSize, options.title, kTitleSize, kInk);
  for (std::size_t i = 0; i < cells.size(); ++i) {
    const SheetCell& cell = cells[i];
    const int x = kGap + static_cast<int>(i) % columns * (options.cellWidth + kGap);
    const int y = top + static_cast<int>(i) / columns * (options.cellHeight + caption + kGap);
    if (!cell.picture.empty()) {
      placeFitted(sheet, cell.picture, x, y, options.cellWidth, options.cellHeight);
    }
    writeText(sheet, x, y + options.cellHeight + kCaptionSize + 6, cell.caption, kCaptionSize, kInk);
    writeText(sheet, x, y + options.cellHeight + kCaptionSize + kNoteSize + 13, cell.note, kNoteSize,
              kQuietInk);
  }
  return sheet;
}

}  // namespace jugendstil
