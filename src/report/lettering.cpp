// SPDX-License-Identifier: Apache-2.0
#include "report/lettering.h"

#include <algorithm>
#include <sstream>

#include "base/number.h"
#include "image/resample.h"
#include "report/drawing.h"

namespace jugendstil {

void writeText(Image& page, int x, int y, const std::string& words, int size, const Rgb& colour) {
  if (words.empty()) return;
  // Letters reach above and below their line, and italics beyond their ends.
  const Drawing drawing(page, {x - size, y - 2 * size, widthOfWords(words, size) + 2 * size, 3 * size});
  drawWords(drawing, x, y, words, size);
  drawing.ink(page, colour);
}

int textWidth(const std::string& words, int size) { return widthOfWords(words, size); }

std::vector<std::string> brokenText(const std::string& words, int size, int width) {
  std::vector<std::string> lines;
  std::istringstream rest(words);
  for (std::string word; rest >> word;) {
    const std::string longer = lines.empty() ? word : lines.back() + " " + word;
    if (!lines.empty() && textWidth(longer, size) <= width)
      lines.back() = longer;
    else
      lines.push_back(word);
  }
  return lines;
}

std::string fittedText(const std::string& words, int size, int width) {
  std::string shown = words;
  const auto inCharacter = [&](std::size_t at) {
    return (static_cast<unsigned char>(words[at]) & 0xC0) == 0x80;
  };
  for (std::size_t left = 1; left < words.size() && textWidth(shown, size) > width; ++left) {
    if (!inCharacter(left)) shown = "..." + words.substr(left);
  }
  return shown;
}

void placeFitted(Image& page, const Image& picture, int x, int y, int width, int height) {
  const double scale = std::min({1.0, 1.0 * width / picture.width, 1.0 * height / picture.height});
  const Image small = resizePhoto(rgbOf(picture), std::max(1, static_cast<int>(picture.width * scale + 0.5)),
                                  std::max(1, static_cast<int>(picture.height * scale + 0.5)));
  const int left = x + (width - small.width) / 2;
  const int top = y + (height - small.height) / 2;
  for (int v = 0; v < small.height; ++v) {
    std::copy_n(small.row(v), small.rowLength(), &page.pixels[page.index(left, top + v, 0)]);
  }
}

}  // namespace jugendstil
