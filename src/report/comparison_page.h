// SPDX-License-Identifier: Apache-2.0
// One page for a browser, complete in itself, on which two of several pictures lie over each other with a
// divider to drag.
#pragma once

#include <string>
#include <vector>

#include "image/image.h"

namespace jugendstil {

// The text of comparison_page.html, put in by the build.
extern const char* const kComparisonPage;

struct NumberTable {
  std::string caption;
  std::vector<std::string> columns;
  struct Row {
    std::string name;
    std::vector<std::string> cells;  // one a column
  };
  std::vector<Row> rows;
};

struct NamedPicture {
  std::string name;
  std::string note;  // how it was made; may be empty
  Image picture;     // display-encoded sRGB
};

// HTML with the pictures inside, losslessly. A table without rows is left out. Throws Error for fewer than
// two pictures, or where they are not all of one size.
std::string comparisonPage(const std::string& title, const std::vector<NamedPicture>& pictures,
                           const NumberTable& numbers);

}  // namespace jugendstil
