// SPDX-License-Identifier: Apache-2.0
#include "report/page.h"

namespace jugendstil {

Image blankPage(int width, int height) {
  Image page(width, height);
  for (std::size_t i = 0; i < page.pixels.size(); ++i) page.pixels[i] = kPaper[i % 3];
  return page;
}

}  // namespace jugendstil
