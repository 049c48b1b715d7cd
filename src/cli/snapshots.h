// SPDX-License-Identifier: Apache-2.0
// Pictures kept on the way to a result.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "image/image.h"

namespace jugendstil::cli {

// out.png after 40 steps: out.step-00040.png, and all of them on one sheet: out.steps.png.
std::filesystem::path snapshotPath(const std::filesystem::path& output, int step);
std::filesystem::path snapshotSheetPath(const std::filesystem::path& output);

// Lays those that are there on the sheet, all in one size, with the result itself behind them where it has a
// caption; with none there is no sheet.
void writeSnapshotSheet(const std::filesystem::path& output, const std::vector<int>& steps,
                        const std::string& caption = "");

}  // namespace jugendstil::cli
