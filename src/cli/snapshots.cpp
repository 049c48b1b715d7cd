// SPDX-License-Identifier: Apache-2.0
#include "cli/snapshots.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/number.h"
#include "image/picture_file.h"
#include "image/resample.h"
#include "report/sheet.h"

namespace jugendstil::cli {

namespace fs = std::filesystem;

fs::path snapshotPath(const fs::path& output, int step) {
  return output.parent_path() /
         fmt::format("{}.step-{:05}{}", output.stem().string(), step, output.extension().string());
}

fs::path snapshotSheetPath(const fs::path& output) {
  return output.parent_path() / fmt::format("{}.steps.png", output.stem().string());
}

void writeSnapshotSheet(const fs::path& output, const std::vector<int>& steps, const std::string& caption) {
  std::vector<SheetCell> cells;
  std::error_code code;
  for (const int step : steps) {
    const fs::path file = snapshotPath(output, step);
    if (fs::exists(file, code)) cells.push_back({readPicture(file).image, fmt::format("step {}", step), ""});
  }
  if (cells.empty()) return;
  if (!caption.empty()) cells.push_back({rgbOf(readPicture(output).image), caption, ""});
  SheetOptions sheet;
  // Coarse levels are smaller, and are to be compared all the same.
  for (SheetCell& cell : cells) {
    const double times =
        std::min(1.0 * sheet.cellWidth / cell.picture.width, 1.0 * sheet.cellHeight / cell.picture.height);
    if (times > 1)
      cell.picture = resizePhoto(cell.picture, static_cast<int>(std::lround(cell.picture.width * times)),
                                 static_cast<int>(std::lround(cell.picture.height * times)));
  }
  sheet.title = output.filename().string();
  sheet.columns = std::min(4, countOf(cells));
  writePicture(snapshotSheetPath(output), contactSheet(cells, sheet), Depth::eight);
}

}  // namespace jugendstil::cli
