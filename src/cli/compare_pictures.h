// SPDX-License-Identifier: Apache-2.0
// Pictures laid side by side, over each other, and in numbers.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "cli/run_options.h"
#include "report/views.h"

namespace jugendstil::cli {

enum class ComparisonView { beside, sheet, split, slide, difference, crops, page };

// Throws UsageError.
ComparisonView comparisonViewOf(const std::string& word);

// What a name asks for by its ending.
ComparisonView comparisonViewFor(const std::filesystem::path& output);

struct PictureComparison : RunOptions {
  std::vector<std::filesystem::path> pictures;  // two or more
  std::string shownOutput() const { return toPipe ? "standard output" : output.string(); }
  std::filesystem::path output;  // empty: numbers only
  ComparisonView view = ComparisonView::beside;
  Divider divider;
  std::vector<MaskBox> crops;  // pixels of the first picture; empty: chosen
  int times = 3;               // how much crops are magnified
  double gain = 4;             // of the difference
  bool numbers = false;
  std::filesystem::path photo;            // to which drawing is compared; empty: the first picture
  std::vector<ReferenceWord> references;  // to which style and colour are compared
  std::filesystem::path network;
};

// Writes the view, prints the numbers. Throws Error.
void comparePictures(const PictureComparison& asked);

}  // namespace jugendstil::cli
