// SPDX-License-Identifier: Apache-2.0
#include "image/animated_picture.h"

#include <fmt/format.h>

#include "base/error.h"
#include "image/picture_io.h"
#include "image/picture_output.h"

namespace jugendstil {

void writeGif(const std::filesystem::path& path, int count, int framesPerSecond,
              const std::function<Image(int)>& frame) {
  PictureOutput output(path, ".gif");
  int width = 0;
  int height = 0;
  for (int i = 0; i < count; ++i) {
    const Image image = frame(i);
    if (i > 0 && (image.width != width || image.height != height))
      throw Error(fmt::format("frame {} of {} has another size than the first", i, path.string()));
    width = image.width;
    height = image.height;
    OIIO::ImageSpec spec(width, height, 3, OIIO::TypeDesc::UINT8);
    const int rate[2] = {framesPerSecond, 1};
    spec.attribute("FramesPerSecond", OIIO::TypeRational, rate);
    output.open(spec, i > 0);
    output.writeRows(0, height, OIIO::TypeDesc::FLOAT, image.pixels.data());
  }
  output.close();
  output.commit();
}

}  // namespace jugendstil
