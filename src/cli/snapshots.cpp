// SPDX-License-Identifier: Apache-2.0
#include "cli/snapshots.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/number.h"
#include "image/picture_file.h"
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

void writeSnapshotSheet(const fs::path& output, const std::vector<int>& steps) {
  std::vector<SheetCell> cells;
  std::error_code code;
  for (const int step : steps) {
    const fs::path file = snapshotPath(output, step);
    if (fs::exists(file, code)) cells.push_back({readPicture(file).image, fmt::format("step {}", step), ""});
  }
  if (cells.empty()) return;
  SheetOptions sheet;
  sheet.title = output.filename().string();
  sheet.columns = std::min(4, countOf(cells));
  writePicture(snapshotSheetPath(output), contactSheet(cells, sheet), Depth::eight);
}

}  // namespace jugendstil::cli
