#include "report/lettering.h"

#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>

#include <algorithm>
#include <sstream>

#include "base/error.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

const char* const kFonts[] = {"/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf", "DejaVuSans",
                              "LiberationSans-Regular"};
const char* const kNoFont = "cannot write captions: no font found; install the package fonts-dejavu-core";

}  // namespace

Image blankPage(int width, int height) {
  Image page(width, height);
  for (std::size_t i = 0; i < page.pixels.size(); ++i) page.pixels[i] = kPaper[i % 3];
  return page;
}

void writeText(Image& page, int x, int y, const std::string& words, int size,
               const std::array<float, 3>& colour) {
  if (words.empty()) return;
  OIIO::ImageBuf buffer(OIIO::ImageSpec(page.width, page.height, 3, OIIO::TypeDesc::FLOAT),
                        page.pixels.data());
  for (const char* font : kFonts) {
    if (OIIO::ImageBufAlgo::render_text(buffer, x, y, words, size, font,
                                        OIIO::cspan<float>(colour.data(), 3)))
      return;
    buffer.geterror();
  }
  throw Error(kNoFont);
}

int textWidth(const std::string& words, int size) {
  if (words.empty()) return 0;
  for (const char* font : kFonts) {
    const OIIO::ROI box = OIIO::ImageBufAlgo::text_size(words, size, font);
    if (box.defined()) return box.xend;
  }
  throw Error(kNoFont);
}

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
  for (std::size_t left = 1; left < words.size() && textWidth(shown, size) > width; ++left)
    shown = "..." + words.substr(left);
  return shown;
}

void placeFitted(Image& page, const Image& picture, int x, int y, int width, int height) {
  const double scale = std::min(
      {1.0, static_cast<double>(width) / picture.width, static_cast<double>(height) / picture.height});
  const Image small = resizePhoto(rgbOf(picture), std::max(1, static_cast<int>(picture.width * scale + 0.5)),
                                  std::max(1, static_cast<int>(picture.height * scale + 0.5)));
  const int left = x + (width - small.width) / 2;
  const int top = y + (height - small.height) / 2;
  for (int v = 0; v < small.height; ++v) {
    std::copy_n(&small.pixels[small.index(0, v, 0)], static_cast<std::size_t>(small.width) * 3,
                &page.pixels[page.index(left, top + v, 0)]);
  }
}

}  // namespace jugendstil
