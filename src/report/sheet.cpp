// SPDX-License-Identifier: Apache-2.0
#include "report/sheet.h"

#include <algorithm>

#include "base/number.h"
#include "report/lettering.h"

namespace jugendstil {
namespace {

constexpr int kGap = 24;
constexpr int kTitleSize = 26;
constexpr int kCaptionSize = 17;
constexpr int kNoteSize = 14;
constexpr int kCaptionLine = kCaptionSize + 5;

using Lines = std::vector<std::string>;

std::vector<Lines> captionsOf(const std::vector<SheetCell>& cells, int width) {
  std::vector<Lines> captions;
  for (const SheetCell& cell : cells) captions.push_back(brokenText(cell.caption, kCaptionSize, width));
  return captions;
}

}  // namespace

Image contactSheet(const std::vector<SheetCell>& cells, const SheetOptions& options) {
  const int columns = std::max(1, options.columns);
  const int rows = (countOf(cells) + columns - 1) / columns;
  const std::vector<Lines> captions = captionsOf(cells, options.cellWidth);
  std::size_t lines = 1;
  for (const Lines& caption : captions) lines = std::max(lines, caption.size());
  const int below = static_cast<int>(lines) * kCaptionLine + kNoteSize + 15;
  const int top = options.title.empty() ? kGap : kGap * 2 + kTitleSize;
  Image sheet = blankPage(kGap + columns * (options.cellWidth + kGap),
                          top + rows * (options.cellHeight + below + kGap));
  writeText(sheet, kGap, kGap + kTitleSize, options.title, kTitleSize, kInk);
  for (std::size_t i = 0; i < cells.size(); ++i) {
    const SheetCell& cell = cells[i];
    const int x = kGap + static_cast<int>(i) % columns * (options.cellWidth + kGap);
    int y = top + static_cast<int>(i) / columns * (options.cellHeight + below + kGap);
    if (!cell.picture.empty()) {
      placeFitted(sheet, cell.picture, x, y, options.cellWidth, options.cellHeight);
    }
    y += options.cellHeight + 1;
    for (const std::string& line : captions[i])
      writeText(sheet, x, y += kCaptionLine, fittedText(line, kCaptionSize, options.cellWidth), kCaptionSize,
                kInk);
    if (captions[i].empty()) y += kCaptionLine;
    writeText(sheet, x, y + kNoteSize + 7, fittedText(cell.note, kNoteSize, options.cellWidth), kNoteSize,
              kQuietInk);
  }
  return sheet;
}

}  // namespace jugendstil
