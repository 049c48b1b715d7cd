#include "report/lettering.h"

#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>

#include <algorithm>

#include "image/error.h"
#include "image/resample.h"

namespace jugendstil {
namespace {

const char* const kFonts[] = {"/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf", "DejaVuSans",
                              "LiberationSans-Regular"};

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
  throw Error("cannot write captions: no font found; install the package fonts-dejavu-core");
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
